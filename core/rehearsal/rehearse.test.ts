import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { compilePrices } from '../costs/prices.ts';
import { retentionHistory } from '../costs/retention/retention-history.ts';
import { volumePrices } from '../costs/volume-prices.ts';
import { checkPlan } from '../plan/check.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { answerOf, type RehearsalFindings } from './rehearsal-answer.ts';
import { answerWithMoney } from './rehearsal-money.ts';
import { mergeRehearsal, newRehearsal, type Rehearsal, rehearseBatch } from './rehearse.ts';

const rest = { id: 'rest', title: 'Rest', keep: '7d' };
const live: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'fares',
      title: 'Fares',
      when: 'source = fares',
      steps: [{ extract: { from: 'body', template: 'fare {fare:int}' } }],
    },
  ],
  tiers: [rest],
};

const draft: PlanDocument = {
  ...live,
  pipelines: live.pipelines.map((pipeline) => ({
    ...pipeline,
    steps: [{ extract: { from: 'body', template: 'fare {fare:int} {currency}' } }],
  })),
  tiers: [
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      exclusions: [{ id: 'cheap', title: 'Cheap', when: 'fare < 10', keep: 'none' }],
    },
  ],
};

function compiled(plan: PlanDocument) {
  const checked = checkPlan(plan);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return compilePlan(checked.plan);
}

const plans = { live: compiled(live), draft: compiled(draft), now: arrival };
const lines = Array.from({ length: 60 }, (_, i) => ({ body: i % 3 === 0 ? `fare ${i}` : `fare ${i} EUR` }));

function rehearse(parts: readonly (readonly object[])[], weight = 1): Rehearsal {
  const rehearsal = newRehearsal();
  for (const part of parts) {
    const batch = batchOf(part, 'fares');
    const own = newRehearsal();
    rehearseBatch(own, plans, { ...batch, weight: batch.weight.map(() => weight) });
    mergeRehearsal(rehearsal, own);
  }
  return rehearsal;
}

describe('a rehearsal', () => {
  const { live: before, draft: after, taped, squares } = rehearse([lines]);

  test('sees the same events arrive under both plans', () => {
    expect(taped).toBe(60);
    expect(squares).toBe(60);
    expect(before.arrived).toEqual(after.arrived);
    expect(before.arrived.events).toBe(60);
  });

  test('tells what either plan parses, and why the others fail', () => {
    expect([before.parsed.events, after.parsed.events]).toEqual([20, 40]);
    const failed = (effect: typeof before) => [...effect.failures.values()].reduce((sum, count) => sum + count, 0);
    expect([failed(before), failed(after)]).toEqual([40, 20]);
  });

  test('tells what each rule takes away and what each tier keeps; together they are what arrived', () => {
    const cheap = lines.filter((_, i) => i < 10 && i % 3 !== 0).length;
    expect(after.rules.get('rest/cheap')?.events).toBe(cheap);
    expect(before.rules.size).toBe(0);
    for (const effect of [before, after]) {
      const outcomes = [...effect.outcomes.values()].reduce((sum, { events }) => sum + events, 0);
      expect(outcomes).toBe(effect.arrived.events);
      expect(effect.tiers.get('rest')?.events).toBe(effect.outcomes.get('kept')?.events);
    }
  });
});

test('in parts it comes out as in one', () => {
  const whole = rehearse([lines]);
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 59 }), (cut) => {
      expect(rehearse([lines.slice(0, cut), lines.slice(cut)])).toEqual(whole);
    }),
    { numRuns: 20 },
  );
});

test('a taped event counts as many times as it stands for', () => {
  const { draft: after, squares, taped } = rehearse([lines], 50);
  expect(after.arrived.events).toBe(3_000);
  expect(after.parsed.events).toBe(2_000);
  expect([taped, squares]).toEqual([60, 60 * 2_500]);
});

test('whatever is left to chance and however events are weighted, flows are all that arrived, and what a month costs follows', () => {
  const weights = fc.array(fc.integer({ min: 1, max: 500 }), { minLength: 1, maxLength: 60 });
  const price = fc.integer({ min: 0, max: 9_000_000 }).map((value) => value / 1e6);
  fc.assert(
    fc.property(weights, fc.integer({ min: 2, max: 50 }), price, price, (list, n, received, kept) => {
      const sampled = compiled({
        ...live,
        tiers: [{ ...rest, exclusions: [{ id: 'some', title: 'Some', when: 'fare > 0', keep: `1 in ${n}` }] }],
      });
      const rehearsal = newRehearsal();
      const batch = batchOf(lines.slice(0, list.length), 'fares');
      rehearseBatch(rehearsal, { ...plans, draft: sampled }, { ...batch, weight: Float32Array.from(list) });
      const { flows, error } = answerOf(rehearsal, { from: 0, to: 1 }, 0);
      for (const of of ['live', 'draft'] as const) {
        const events = flows.reduce((sum, flow) => sum + flow[of].events, 0);
        expect(events).toBeCloseTo(rehearsal[of].arrived.events, 6);
      }
      const book = {
        ...{ prices: 1 as const, currency: { sign: 'cr', digits: 2 } },
        entries: [{ from: '2020-01-01', received: received * 1e6, kept: [{ days: 1, price: kept * 1e4 }] }],
      };
      const of = {
        ...{ prices: compilePrices(book), retention: retentionHistory(new Map()) },
        ...{ teamOf: () => '', fleetsOf: () => [], receivedOn: () => 0, seriesOn: () => 0 },
      };
      const found = { flows, error } as unknown as RehearsalFindings;
      const documents = { live, draft: { ...live } };
      const money = answerWithMoney(found, volumePrices(of, [], arrival), documents, 30).money;
      const plain = (effect: typeof rehearsal.live): number =>
        3_000 * ((effect.arrived.bytes * received) / 1e3 + ((effect.tiers.get('rest')?.events ?? 0) * kept) / 100);
      // Volumes are whole bytes and events for each place before they are priced.
      const near = 3_000 * flows.length * (received / 1e3 + kept / 100) + 1;
      expect(Math.abs((money?.live ?? 0) - plain(rehearsal.live))).toBeLessThanOrEqual(near);
      expect(Math.abs((money?.draft ?? 0) - plain(rehearsal.draft))).toBeLessThanOrEqual(near);
    }),
    { numRuns: 60 },
  );
});
