import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { checkPlan } from '../plan/check.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { answerOf } from './answer-of.ts';
import { mergeRehearsal, newRehearsal, rehearseBatch } from './rehearse.ts';
import { isSurgeLength, type SurgeChoice, surgeOf, timeOfDay } from './surge.ts';

function compiled(plan: PlanDocument) {
  const checked = checkPlan(plan);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return compilePlan(checked.plan);
}

const live: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [{ id: 'rest', title: 'Rest', keep: '7d', cap: { day: '4000 events', over: 'passing' } }],
};
const draft: PlanDocument = {
  ...live,
  tiers: [
    {
      ...(live.tiers[0] as PlanDocument['tiers'][number]),
      exclusions: [{ id: 'x', title: 'X', when: 'pier = p1', keep: 'none' }],
    },
  ],
};

const from = Math.floor(arrival / day) * day;
/** A hundred events in each hour of a day, half of each of two piers. */
const batches = Array.from({ length: 24 }, (_, part) => {
  const batch = batchOf(
    Array.from({ length: 100 }, (_, i) => ({ pier: `p${i % 2}`, msg: 'a crane lifts' })),
    'cranes',
  );
  const received = batch.received.map((_, i) => from + part * hour + i * 1_000);
  return { ...batch, received, time: received };
});

function rehearsed(surge: SurgeChoice | undefined) {
  const whole = newRehearsal();
  const window = { from, to: from + day };
  for (const batch of batches) {
    const own = newRehearsal();
    const plans = { live: compiled(live), draft: compiled(draft), now: arrival, window };
    rehearseBatch(own, { ...plans, surge: surge && surgeOf(surge) }, batch);
    mergeRehearsal(whole, own);
  }
  const room = {
    shareStored: (source: string, tier: string) => (`${source} ${tier}` === 'cranes rest' ? 0.25 : 0.1),
    free: 900,
  };
  const basis = { span: 1, room, recent: { count: 0, sources: new Map() }, owners: {}, lineOf: () => '', readers: [] };
  return answerOf(whole, window, 0, { ...basis, plans: { live, draft }, surge });
}

const surge: SurgeChoice = { condition: 'pier = p0', times: 11, from: '22:00', length: '4h' };

test('without a surge nothing is added, and the caps are those of a day like the rehearsed one', () => {
  const { caps, surge: none } = rehearsed(undefined);
  expect(none).toBeNull();
  expect(caps.live).toEqual([
    { tier: 'rest', unit: 'events', amount: 4_000, wanted: expect.closeTo(2_400), meets: null },
  ]);
});

test('what matches comes so much more often, past midnight too; each plan keeps of it what it keeps', () => {
  const { surge: found, kept } = rehearsed(surge);
  // Four hours with fifty events that come ten times more.
  const bytes = kept.live.bytes / 2_400;
  expect(found?.arrives).toBeCloseTo(4 * 50 * 10 * bytes, 0);
  const [tier] = found?.tiers ?? [];
  expect(tier?.id).toBe('rest');
  expect(tier?.live).toBeCloseTo(2_000 * bytes, 0);
  // The draft excludes the other pier.
  expect(tier?.draft).toBeCloseTo(2_000 * bytes, 0);
  const [before] = found?.caps.live ?? [];
  const [after] = found?.caps.draft ?? [];
  expect(before?.wanted).toBeCloseTo(4_400, 0);
  // Two hours of 600, twenty of 100 are 3,200; 800 of the 1,200 of the last two are left.
  expect((before?.meets ?? 0) / hour).toBeCloseTo(22 + 800 / 600, 1);
  expect(after).toMatchObject({ meets: null });
  expect(rehearsed({ ...surge, condition: 'pier = p1' }).surge?.tiers).toEqual([
    { id: 'rest', live: expect.closeTo(2_000 * bytes, 0), draft: 0 },
  ]);
});

test('the store gets what each plan keeps of it, and what passes, compressed', () => {
  const { surge: found, kept } = rehearsed({ ...surge, condition: 'pier = p1' });
  const bytes = 2_000 * (kept.live.bytes / 2_400);
  expect(found?.store).toEqual({
    live: expect.closeTo(bytes / 4, 0),
    // What the draft excludes passes.
    draft: expect.closeTo(bytes / 10, 0),
    free: 900,
  });
});

test('silence takes away', () => {
  const { surge: found, arrived } = rehearsed({ condition: '', times: 0, from: '00:00', length: '1d' });
  expect(found?.arrives).toBeCloseTo(-arrived.bytes);
  expect(found?.caps.live[0]?.wanted).toBeCloseTo(0);
});

test.each([
  ['18:00', 18 * hour],
  ['7:05', 7 * hour + 5 * minute],
  ['24:00', undefined],
  ['18', undefined],
  ['noon', undefined],
])('the time of day %s', (text, time) => {
  expect(timeOfDay(text)).toBe(time);
});

test('a surge lasts from a minute to a day', () => {
  expect(['2h', '90s', '1d'].every(isSurgeLength)).toBe(true);
  expect(['', '10', '25h', '-1h', 'long', undefined].some(isSurgeLength)).toBe(false);
});
