import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

const sampling: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      exclusions: [
        { id: 'chatter', title: 'Chatter', when: 'kind = chatter', keep: '1 in 10' },
        { id: 'noise', title: 'Noise', when: 'kind = noise', keep: 'none' },
      ],
    },
  ],
};

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('mixed');
});

afterAll(() => engine.stop());

function lines(count: number, kind: string): string {
  return Array.from({ length: count }, (_, i) => `{"msg":"line ${i}","kind":"${kind}","value":${i % 100}}`).join('\n');
}

test('with one in ten kept, counts and sums estimate what arrived, and say so', async () => {
  await engine.publish(sampling);
  for (let i = 0; i < 5; i++) await send(engine, 'mixed', lines(4_000, 'chatter'));
  const summary = 'count() as events, sum(value) as total, avg(value) as mean, p50(value) as middle';
  const answer = await engine.search({ condition: 'kind = chatter', summary, limit: 0 });
  const [events, total, mean, middle] = (answer.summary?.rows[0] ?? []) as number[];
  // Standard error of the count: √(20000 × 9) ≈ 424; five of them.
  expect(Math.abs((events ?? 0) - 20_000)).toBeLessThan(2_150);
  expect((total ?? 0) / (events ?? 1)).toBeCloseTo(mean ?? 0, 6);
  expect(Math.abs((mean ?? 0) - 49.5)).toBeLessThan(4);
  expect(Math.abs((middle ?? 0) - 50)).toBeLessThan(8);
  expect(answer.estimated).toBe(true);
});

test('what an exclusion keeps none of is searchable in the passing tier for the hour', async () => {
  await send(engine, 'mixed', lines(100, 'noise'));
  expect((await engine.search({ condition: 'kind = noise tier = passing' })).total).toBe(100);
  expect((await engine.search({ condition: 'kind = noise', tiers: ['rest'] })).total).toBe(0);
});

test('a plan can be published while events arrive, without losing or doubling one', async () => {
  await engine.publish({ ...sampling, tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }] });
  let publishing = true;
  const publisher = (async () => {
    for (let i = 0; publishing; i++) {
      const id = i % 2 === 0 ? 'rest' : 'other';
      await engine.publish({ plan: 1, pipelines: [], tiers: [{ id, title: id, keep: '7d' }] });
    }
  })();
  for (let i = 0; i < 40; i++) await send(engine, 'mixed', lines(200, 'swap'));
  publishing = false;
  await publisher;
  const { summary } = await engine.search({ condition: 'kind = swap', summary: 'count() by tier', limit: 0 });
  expect(summary?.rows.reduce((sum, row) => sum + Number(row[1]), 0)).toBe(8_000);
  expect(summary?.rows.length).toBe(2);
});

test('merging small segments changes neither counts nor events', async () => {
  const merged = async (): Promise<number> => {
    const metrics = await (await fetch(`${engine.intake}/metrics`)).text();
    return Number(/otter_compactions_total (\d+)/.exec(metrics)?.[1]);
  };
  const before = await merged();
  for (let i = 0; i < 14; i++) await send(engine, 'mixed', lines(50, 'merge'));
  const query = { condition: 'kind = merge', summary: 'count() as n, sum(value) as total', limit: 0 };
  for (const end = Date.now() + 60_000; Date.now() < end && (await merged()) === before; ) {
    expect((await engine.search(query)).summary?.rows[0]).toEqual([700, 14 * 1225]);
  }
  expect(await merged()).toBeGreaterThan(before);
  expect((await engine.search(query)).summary?.rows[0]).toEqual([700, 14 * 1225]);
});

test('a wrong condition is refused with its place and what to write instead', async () => {
  await expect(engine.search({ condition: 'status == 200' })).rejects.toThrow('"suggestion":"="');
});

test('a rehearsal predicts what publishing then does', async () => {
  await engine.publish({ plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }] });
  const draft: PlanDocument = {
    plan: 1,
    pipelines: [],
    tiers: [
      {
        id: 'rest',
        title: 'Rest',
        keep: '7d',
        exclusions: [{ id: 'out', title: 'Out', when: 'value < 50', keep: 'none' }],
      },
    ],
  };
  await engine.saveDraft(draft);
  const result = await engine.ask<RehearsalAnswer>('rehearseDraft');
  expect(result.kept.draft.events / result.kept.live.events).toBeCloseTo(0.5, 1);
});

test('a plan that was not rehearsed is published without a prediction', async () => {
  const plan = { plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '8d' }] };
  await engine.saveDraft(plan);
  expect(await engine.ask('publishDraft', { note: 'unrehearsed' })).toMatchObject({ ok: true });
});
