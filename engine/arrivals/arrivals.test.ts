import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { ArrivalsFrame } from '#core/answers/arrivals.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { mostViews } from './arrivals-hub.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  for (const name of ['gates', 'piers']) await engine.source(name, { format: 'json' });
  const plan: PlanDocument = {
    plan: 1,
    pipelines: [],
    tiers: [
      {
        ...{ id: 'rest', title: 'Rest', keep: '7d', when: 'n < 90' },
        exclusions: [{ id: 'noise', title: 'Noise', when: 'n < 50', keep: 'none' }],
      },
    ],
  };
  await engine.publish(plan);
});

afterAll(() => engine.stop());

/** Watches by some conditions; gathers frames until `enough` says so. */
async function watched(
  conditions: readonly string[],
  meanwhile: () => Promise<unknown>,
  enough: (frames: readonly ArrivalsFrame[]) => boolean,
): Promise<readonly ArrivalsFrame[]> {
  const abort = new AbortController();
  const [condition, condition2, condition3] = conditions;
  const answer = await fetch(`${engine.api}/operations/arrivals`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
    body: JSON.stringify({ condition, condition2, condition3 }),
    signal: abort.signal,
  });
  expect(answer.headers.get('content-type')).toBe('text/event-stream');
  const frames: ArrivalsFrame[] = [];
  let rest = '';
  let isBegun = false;
  let sending: Promise<unknown> = Promise.resolve();
  const reader = (answer.body as ReadableStream<Uint8Array>).getReader();
  const decoder = new TextDecoder();
  for (let read = await reader.read(); !read.done; read = await reader.read()) {
    const events = (rest + decoder.decode(read.value, { stream: true })).split('\n\n');
    rest = events.pop() ?? '';
    for (const event of events) frames.push(JSON.parse(event.slice('data: '.length)));
    // The views are open once the first frame has come.
    if (!isBegun) sending = meanwhile();
    isBegun = true;
    if (enough(frames)) break;
  }
  abort.abort();
  await sending;
  return frames;
}

const matched = (frames: readonly ArrivalsFrame[], view: number): number =>
  frames.reduce((sum, { views }) => sum + (views[view]?.matched ?? 0), 0);
const linesOf = (frames: readonly ArrivalsFrame[], view: number) =>
  frames.flatMap(({ views }) => views[view]?.lines ?? []);
const lines = (count: number): string =>
  Array.from(
    { length: count },
    (_, n) => `{"n":${n % 100},"msg":"barrier ${n}","level":"${n % 10 === 0 ? 'error' : 'info'}"}`,
  ).join('\n');

test('what comes in is reported as it came, before any exclusion, with where it went; conditions may name tiers', async () => {
  const frames = await watched(
    ['', 'n >= 98', 'tier = rest severity = error'],
    () => send(engine, 'gates', lines(100)),
    (sofar) => matched(sofar, 0) >= 100,
  );
  expect([0, 1, 2].map((view) => matched(frames, view))).toEqual([100, 2, 4]);
  const severities = frames.reduce((sum, { views }) => sum + (views[0]?.severities[5] ?? 0), 0);
  expect(severities).toBe(10);
  // Of a hundred that came at once a frame shows some, by chance.
  expect(linesOf(frames, 0).length).toBe(25);
  expect(linesOf(frames, 1).map(({ text, outcome, tier }) => [text, outcome, tier])).toEqual([
    ['barrier 98', 'passing', ''],
    ['barrier 99', 'passing', ''],
  ]);
  for (const { text, outcome, rule } of linesOf(frames, 0)) {
    const n = Number(text.split(' ')[1]);
    expect([outcome, rule]).toEqual(n < 50 ? ['excluded', 'noise'] : n < 90 ? ['kept', ''] : ['passing', '']);
  }
});

test('of very many a sample is shown and all are counted', async () => {
  let isSent = false;
  const frames = await watched(
    ['source = piers', 'source = gates'],
    async () => {
      for (let i = 0; i < 10; i++) await send(engine, 'piers', lines(5_000));
      isSent = true;
    },
    (sofar) => isSent && sofar.at(-1)?.views[0]?.matched === 0,
  );
  // Where a thread is busy only a share is looked at, and the count is an estimate.
  expect(Math.abs(matched(frames, 0) - 50_000)).toBeLessThan(10_000);
  expect(matched(frames, 1)).toBe(0);
  expect(linesOf(frames, 0).length).toBeLessThanOrEqual(25 * frames.length);
  for (const { views } of frames) expect(views[0]?.lines.length).toBeLessThanOrEqual(25);
});

test('no more views than there is room for are open at a time, and those nobody looks at are closed', async () => {
  const abort = new AbortController();
  const open = (condition: string): Promise<Response> =>
    fetch(`${engine.api}/operations/arrivals`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
      body: JSON.stringify({ condition }),
      signal: abort.signal,
    });
  expect((await open('n >')).status).toBe(400);
  const answers = await Promise.all(Array.from({ length: mostViews }, () => open('')));
  // Each has begun once its first frame is there.
  await Promise.all(answers.map(({ body }) => body?.getReader().read()));
  const refused = await open('');
  expect(refused.status).toBe(429);
  abort.abort();
  await expect
    .poll(
      async () => {
        const again = new AbortController();
        const answer = await fetch(`${engine.api}/operations/arrivals`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
          body: '{}',
          signal: again.signal,
        });
        again.abort();
        return answer.status;
      },
      { timeout: 10_000 },
    )
    .toBe(200);
});
