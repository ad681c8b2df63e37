import { day, hour } from '../core/events/time-units.ts';
import type { PlanDocument } from '../core/plan/document.ts';
import type { RehearsalAnswer } from '../core/rehearsal/rehearsal-answer.ts';
import { seededRandom } from '../core/routing/route.ts';
import { send, startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { intake } from './beside-intake.ts';
import type { Row } from './measure.ts';
import { settled } from './settled.ts';

/** So few events an hour are all on the tape: so many sources make a million in a day. */
const sources = 100;
const hourly = 400;
/** Days of history, and events an hour of a source in it. */
const days = 14;
const inHistory = 4;
const within = 6_000;
const turns = 5;
const warmUps = 2;
/** The part of intake alone that is to be taken in while rehearsals follow one another. */
const leastIntake = 0.85;

const now = Date.now();
const nameOf = (source: number): string => `service-${source}`;

function linesOf(source: number, from: number, count: number): string {
  const random = seededRandom(source * 7 + from);
  return Array.from({ length: count }, (_, i) => {
    const took = Math.round(200 * random() ** 3);
    const status = random() < 0.02 ? 500 : 200;
    return JSON.stringify({
      ...{ time: new Date(from + (i * hour) / count).toISOString(), status, took },
      ...{ level: status === 500 ? 'error' : random() < 0.3 ? 'debug' : 'info', pier: `p${Math.floor(20 * random())}` },
      message: `booking ${Math.floor(1e6 * random())} of lane ${i % 7} took ${took} ms`,
    });
  }).join('\n');
}

async function load(engine: TestEngine): Promise<void> {
  const begin = Math.floor(now / hour) * hour;
  const lane = async (first: number): Promise<void> => {
    for (let source = first; source < sources; source += 8)
      for (let at = begin - days * day; at < begin; at += hour) {
        const headers = { 'otter-backfill': new Date(at).toISOString() };
        const count = at < begin - day ? inHistory : hourly;
        const answer = await send(engine, nameOf(source), linesOf(source, at, count), headers);
        if (!answer.ok) throw new Error(await answer.text());
      }
  };
  await Promise.all(Array.from({ length: 8 }, (_, first) => lane(first)));
}

/** How long a rehearsal of a million taped events and two weeks takes, and what it leaves of intake. */
export async function rehearsalSpeedRows(mariadb: string, say: (text: string) => void): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  try {
    for (let source = 0; source < sources; source++) await engine.source(nameOf(source));
    await engine.source('small');
    await load(engine);
    await settled(engine);
    const { plan } = await engine.ask<{ readonly plan: PlanDocument }>('plan', {});
    const exclusions = [
      { id: 'debug', title: 'Debug', when: 'severity < info', keep: '1 in 20', by: 'pier' },
      { id: 'quick', title: 'Quick', when: 'took < 5 status = 200', keep: 'none' },
    ];
    const tiers = plan.tiers.map((tier, i) => (i === plan.tiers.length - 1 ? { ...tier, exclusions } : tier));
    await engine.ask('saveDraft', { plan: { ...plan, tiers } });
    const times: number[] = [];
    for (let turn = -warmUps; turn < turns; turn++) {
      const begun = performance.now();
      const answer = await engine.ask<RehearsalAnswer>('rehearseDraft', { span: '14d' });
      if (turn >= 0) times.push(performance.now() - begun);
      else if (turn === -1)
        say(`${answer.taped} taped records stand for ${Math.round(answer.arrived.events)} events a day`);
    }
    const time = times.sort((a, b) => a - b)[turns >> 1] as number;
    const alone = await intake(engine);
    let isOver = false;
    const rehearsing = (async () => {
      while (!isOver) await engine.ask('rehearseDraft', { span: '14d' });
    })();
    const beside = await intake(engine);
    isOver = true;
    await rehearsing;
    return [
      { id: 'q 6 s / rehearsal of a million taped events', ours: time, peer: within, ratio: within / time, floor: 1 },
      {
        ...{ id: 'q intake beside rehearsals / 85 % of it alone', ours: beside, peer: leastIntake * alone },
        ...{ ratio: beside / (leastIntake * alone), floor: 1 },
      },
    ];
  } finally {
    await engine.stop();
  }
}
