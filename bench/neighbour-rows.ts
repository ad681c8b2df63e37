import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { setTimeout as pause } from 'node:timers/promises';
import { send, startEngine, type TestEngine } from '../engine/testing/engine.ts';
import type { Row } from './measure.ts';

/** How often the quiet sender sends, and how many times (milliseconds). */
const every = 250;
const posts = 480;
/** Within so many milliseconds 99 of 100 of its requests are answered. */
const answeredWithin = 1_000;
const hostile = ['slow', 'bombs', 'names', 'lines'];
/** Most memory that the engine may have come to by then, in bytes. */
const mostMemory = 2.5e9;

async function memoryOf(engine: TestEngine): Promise<number> {
  const text = await (await fetch(`${engine.intake}/metrics`)).text();
  return Number(/^otter_memory_bytes (\S+)$/m.exec(text)?.[1]);
}

/** Sends at fixed times, whether the request before was answered or not; returns how long each waited (milliseconds), in order of size. */
async function quietSender(engine: TestEngine): Promise<readonly number[]> {
  const waits: Promise<number>[] = [];
  for (let i = 0; i < posts; i++) {
    const begun = performance.now();
    const sent = send(engine, 'quiet', `{"msg":"passes","i":${i}}`);
    waits.push(
      sent.then(async (answer) => {
        await answer.arrayBuffer();
        if (answer.status !== 200) throw new Error(`the quiet sender was answered ${answer.status}`);
        return performance.now() - begun;
      }),
    );
    await pause(every);
  }
  return (await Promise.all(waits)).sort((a, b) => a - b);
}

async function ended(child: ChildProcess): Promise<void> {
  const gone = once(child, 'exit');
  child.kill('SIGKILL');
  await gone;
}

/** How long a quiet sender waits beside hostile ones, while another process burns a core. */
export async function neighbourRows(mariadb: string): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  const stop: ChildProcess[] = [];
  try {
    for (const source of ['quiet', ...hostile]) await engine.source(source);
    await send(engine, 'quiet', '{"msg":"begins"}');
    stop.push(spawn('node', ['-e', 'for (;;);'], { stdio: 'ignore' }));
    stop.push(spawn('node', ['bench/hostile-senders.mjs', engine.intake], { stdio: ['ignore', 'inherit', 'inherit'] }));
    const waits = await quietSender(engine);
    const at = (share: number): number => waits[Math.floor(share * (waits.length - 1))] as number;
    if (process.env.BENCH_DETAILS) console.log([0.5, 0.9, 0.95, 0.99, 1].map((share) => Math.round(at(share))));
    const ours = at(0.99);
    const memory = await memoryOf(engine);
    return [
      {
        id: 'm 2.5 GB / engine memory beside hostile senders',
        ours: memory,
        peer: mostMemory,
        ratio: mostMemory / memory,
        floor: 1,
      },
      {
        id: 'm 1 s / 99th percentile of a quiet sender beside hostile ones',
        ours,
        peer: answeredWithin,
        ratio: answeredWithin / ours,
        floor: 1,
      },
    ];
  } finally {
    await Promise.all(stop.map(ended));
    await engine.stop();
  }
}
