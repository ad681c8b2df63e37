import { setTimeout as pause } from 'node:timers/promises';
import { send, type TestEngine } from '../engine/testing/engine.ts';
import type { Row } from './measure.ts';

/** Searches that run at the same time. */
const parallel = 50;
/** Events that are sent each second, and in each delivery. */
const wanted = 5_000;
const perDelivery = 500;
/** How long it is measured, in milliseconds. */
const length = 20_000;
/** Within so many milliseconds the first answer is to be there. */
const answerWithin = 2_000;
/** Bytes that the engine may take beside what it keeps open. */
const besides = 500_000_000;

const conditions = ['', 'status >= 500', 'refused', 'ticket = T4711', 'source = payments took > 3.5'];

interface Running {
  isOver: boolean;
}

/** Sends events at their pace for a while; returns how many were taken each second. */
export async function intake(engine: TestEngine): Promise<number> {
  const begun = performance.now();
  let taken = 0;
  const sent: Promise<void>[] = [];
  for (let n = 0; performance.now() - begun < length; n++) {
    const lines = Array.from(
      { length: perDelivery },
      (_, i) => `{"msg":"passenger ${n * perDelivery + i} boards","lane":"${i % 3}","status":200}`,
    );
    const delivery = send(engine, 'small', lines.join('\n')).then((answer) => {
      if (answer.ok) taken += perDelivery;
    });
    sent.push(delivery);
    await pause(Math.max(0, ((n + 1) * perDelivery * 1_000) / wanted - (performance.now() - begun)));
  }
  await Promise.all(sent);
  return (taken * 1_000) / (performance.now() - begun);
}

/** Keeps so many searches running until it is over; tells how long the first of them took (milliseconds). */
async function searches(ask: (condition: string) => Promise<unknown>, running: Running): Promise<number> {
  const begun = performance.now();
  let first = Number.POSITIVE_INFINITY;
  const one = async (place: number): Promise<void> => {
    for (let turn = place; !running.isOver; turn++) {
      await ask(conditions[turn % conditions.length] as string);
      first = Math.min(first, performance.now() - begun);
    }
  };
  await Promise.all(Array.from({ length: parallel }, (_, place) => one(place)));
  return first;
}

/** The most resident bytes of an engine while it runs. */
async function mostMemory(engine: TestEngine, running: Running): Promise<number> {
  let most = 0;
  while (!running.isOver) {
    const metrics = await (await fetch(`${engine.intake}/metrics`)).text();
    most = Math.max(most, Number(/otter_memory_bytes (\d+)/.exec(metrics)?.[1]));
    await pause(500);
  }
  return most;
}

/** Fifty searches at once beside intake: what is taken in, when the first answer is there, and what memory it takes. */
export async function besideIntakeRows(
  engine: TestEngine,
  ask: (condition: string) => Promise<unknown>,
  memory: number,
): Promise<readonly Row[]> {
  const alone = await intake(engine);
  const running: Running = { isOver: false };
  const first = searches(ask, running);
  const most = mostMemory(engine, running);
  const beside = await intake(engine);
  running.isOver = true;
  const row = (id: string, ours: number, peer: number, ratio: number): Row => ({ id, ours, peer, ratio, floor: 1 });
  const answered = await first;
  const bytes = await most;
  return [
    row('i intake beside fifty searches / nine tenths of it alone', beside, 0.9 * alone, beside / (0.9 * alone)),
    row('i first answer among fifty searches / 2 s', answered, answerWithin, answerWithin / answered),
    row(
      'i engine memory of fifty searches / ENGINE_MEMORY and 0.5 GB',
      bytes,
      memory + besides,
      (memory + besides) / bytes,
    ),
  ];
}
