import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { compilePrices } from '../costs/prices.ts';
import { retentionHistory } from '../costs/retention/retention-history.ts';
import { volumePrices } from '../costs/volume-prices.ts';
import { checkPlan } from '../plan/check.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { answerOf } from './answer-of.ts';
import { flowsOfMoves } from './flows.ts';
import type { RehearsalFindings } from './rehearsal-answer.ts';
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

/** What a rehearsal of a window that is all there is comes to. */
function told(rehearsal: Rehearsal): RehearsalFindings {
  return answerOf(rehearsal, { from: 0, to: 1 }, 0);
}

describe('a rehearsal', () => {
  const rehearsal = rehearse([lines]);
  const findings = told(rehearsal);

  test('sees the same events arrive under both plans', () => {
    expect(rehearsal.taped).toBe(60);
    expect(findings.arrived.events).toBe(60);
    for (const of of ['live', 'draft'] as const)
      expect(findings.outcomes.reduce((sum, row) => sum + row[of].events, 0)).toBe(60);
  });

  test('tells what either plan parses, and why the others fail', () => {
    expect(findings.parsed.live).toBeCloseTo(20 / 60);
    expect(findings.parsed.draft).toBeCloseTo(40 / 60);
    const failed = (list: readonly [string, number][]) => list.reduce((sum, [, count]) => sum + count, 0);
    expect([failed(findings.failures.live), failed(findings.failures.draft)]).toEqual([40, 20]);
  });

  test('tells what each rule takes away and what each tier keeps', () => {
    const cheap = lines.filter((_, i) => i < 10 && i % 3 !== 0).length;
    const [rule] = findings.rules;
    expect(rule).toMatchObject({ id: 'rest/cheap', live: { events: 0 }, draft: { events: cheap } });
    expect(findings.rules).toHaveLength(1);
    const [tier] = findings.tiers;
    expect(tier).toMatchObject({ id: 'rest', live: { events: 60 }, draft: { events: 60 - cheap } });
    expect(findings.kept.draft.events).toBe(60 - cheap);
  });

  test('of all there is, nothing is left to chance', () => {
    expect(findings.kept.bands).toEqual({ draft: 0, change: 0 });
  });
});

test('where the draft makes other events of what arrived, either plan is told for itself', () => {
  const joins: PlanDocument = {
    ...live,
    pipelines: live.pipelines.map((pipeline) => ({
      ...pipeline,
      steps: [{ 'join-lines': { starts: 'fare [0-9]+$' } }],
    })),
  };
  const rehearsal = newRehearsal();
  rehearseBatch(rehearsal, { ...plans, draft: compiled(joins) }, batchOf(lines, 'fares'));
  const { tiers, arrived, kept } = told(rehearsal);
  expect(arrived.events).toBe(60);
  expect(tiers[0]?.live.events).toBe(60);
  // A line without a currency begins an event; the two after it are joined to it.
  expect(tiers[0]?.draft.events).toBe(20);
  // The bytes are those that arrived.
  expect(kept.draft.bytes).toBe(kept.live.bytes);
});

test('a young installation tells of the days that it has', () => {
  const day = { events: Float64Array.of(9, 9), bytes: Float64Array.of(90, 90) };
  const spanWith = (count: number): number => {
    const sources = new Map(count > 0 ? [['fares', { all: day, shapes: new Map(), first: 0 }]] : []);
    const basis = { span: 7, recent: { count, sources }, owners: {}, lineOf: () => '', readers: [] };
    return answerOf(rehearse([lines]), { from: 0, to: 1 }, 0, basis).span;
  };
  expect([spanWith(0), spanWith(2)]).toEqual([1, 2]);
});

test('sources of which the tape has nothing are left out and named', () => {
  const days = (...bytes: number[]) => ({ events: Float64Array.from(bytes), bytes: Float64Array.from(bytes) });
  const source = (...bytes: number[]) => ({ all: days(...bytes), shapes: new Map(), first: 0 });
  const sources = new Map([
    ['fares', source(90, 90, 90)],
    ['weather', source(0, 5, 0)],
    ['old', source(7, 0, 0)],
  ]);
  const basis = { span: 2, recent: { count: 3, sources }, owners: {}, lineOf: () => '', readers: [] };
  expect(answerOf(rehearse([lines]), { from: 0, to: 1 }, 0, basis).leftOut).toEqual(['weather']);
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
  const rehearsal = rehearse([lines], 50);
  const findings = told(rehearsal);
  expect(rehearsal.taped).toBe(60);
  expect(findings.arrived.events).toBe(3_000);
  expect(findings.parsed.draft).toBeCloseTo(2_000 / 3_000);
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
      const found = told(rehearsal);
      const flows = flowsOfMoves(found.moves);
      for (const of of ['live', 'draft'] as const) {
        const events = flows.reduce((sum, flow) => sum + flow[of].events, 0);
        expect(events).toBeCloseTo(found.arrived.events, 6);
      }
      const book = {
        ...{ prices: 1 as const, currency: { sign: 'cr', digits: 2 } },
        entries: [{ from: '2020-01-01', received: received * 1e6, kept: [{ days: 1, price: kept * 1e4 }] }],
      };
      const of = {
        ...{ prices: compilePrices(book), retention: retentionHistory(new Map()) },
        ...{ teamOf: () => '', fleetsOf: () => [], receivedOn: () => 0, seriesOn: () => 0 },
      };
      const documents = { live, draft: { ...live } };
      const money = answerWithMoney(found, {
        prices: volumePrices(of, [], arrival),
        plans: documents,
        times: 30,
        month: { views: [], fleetsOf: () => [] },
      }).money;
      const plain = (of: 'live' | 'draft'): number =>
        3_000 * ((found.arrived.bytes * received) / 1e3 + (found.kept[of].events * kept) / 100);
      // Volumes are whole bytes and events for each place before they are priced.
      const near = 3_000 * flows.length * (received / 1e3 + kept / 100) + 1;
      expect(Math.abs((money?.live ?? 0) - plain('live'))).toBeLessThanOrEqual(near);
      expect(Math.abs((money?.draft ?? 0) - plain('draft'))).toBeLessThanOrEqual(near);
    }),
    { numRuns: 60 },
  );
});
