import fc from 'fast-check';
import { expect, test } from 'vitest';
import { coinsOf, unit } from '../costs/money.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import { day } from '../events/time-units.ts';
import type { PlanDocument } from '../plan/document.ts';
import { flowsOfMoves, type RehearsedFlow } from './flows.ts';
import { movesOf } from './moves.ts';
import type { RehearsalFindings } from './rehearsal-answer.ts';
import { addedCost, answerWithMoney } from './rehearsal-money.ts';
import { flowsOfChange, savedByRevision } from './revision-saving.ts';
import { excluded, passing, transitionOf, transitionsOf } from './testing/transitions.ts';

const plan = (keep: string): PlanDocument => ({
  ...{ plan: 1, pipelines: [] },
  tiers: [{ id: 'rest', title: 'Rest', keep, exclusions: [{ id: 'x', title: 'X', when: 'a', keep: 'none' }] }],
});

/** A coin for each byte received, and for each byte and day that it is kept. */
const prices: VolumePrices = {
  currency: { sign: 'cr', digits: 2 },
  costOf: ({ bytes, outcome, tier }, { keepOf } = {}) => ({
    received: (unit / 100n) * BigInt(Math.round(bytes)),
    kept: 0n,
    series: 0n,
    stored: outcome === 'kept' ? (unit / 100n) * BigInt(Math.round((bytes * (keepOf?.(tier) ?? 0)) / day)) : 0n,
  }),
};
const volume = (bytes: number) => ({ events: bytes, bytes });
const flow = (source: string, outcome: string, live: number, draft: number): RehearsedFlow => ({
  place: [source, outcome, outcome === 'passing' ? '' : 'rest', outcome === 'excluded' ? 'x' : ''],
  ...{ live: volume(live), draft: volume(draft) },
});
// Of 100 bytes of the gates the draft excludes 60; the tides stay as they are.
const flows = [
  flow('gates', 'kept', 100, 40),
  flow('gates', 'excluded', 0, 60),
  flow('tides', 'kept', 50, 50),
  flow('tides', 'passing', 7, 7),
];
const moves = movesOf(
  transitionsOf([
    transitionOf({ bytes: 40 }),
    transitionOf({ bytes: 60, draft: excluded }),
    transitionOf({ source: 'tides', bytes: 50 }),
    transitionOf({ source: 'tides', bytes: 7, live: passing, draft: passing }),
  ]),
  { count: 0, sources: new Map() },
);
const owners = { gates: 'harbour', tides: 'harbour' };
const findings = { moves, shapeMoves: [], owners, span: 1 } as unknown as RehearsalFindings;
const month = { views: [], fleetsOf: () => [] };
const surely = { draft: 0, change: 0 };

test('a rehearsal tells what live and draft cost in a month, by tier, fate and rule', () => {
  const plans = { live: plan('10d'), draft: plan('10d') };
  expect(answerWithMoney(findings, { prices: undefined, plans, times: 30, month }).money).toBeNull();
  expect(answerWithMoney(findings, { prices, plans, times: 30, month }).money).toEqual({
    currency: prices.currency,
    live: 30 * (157 + 1_500),
    draft: 30 * (157 + 900),
    // Both come evenly over the window, and no day is known.
    bands: surely,
    tiers: [{ id: 'rest', live: 30 * 1_650, draft: 30 * 990, bands: surely }],
    outcomes: [
      { id: 'excluded', live: 0, draft: 30 * 60, bands: surely },
      { id: 'passing', live: 30 * 7, draft: 30 * 7, bands: surely },
    ],
    rules: [{ id: 'rest/x', live: 0, draft: 30 * 600 }],
    // The tides cost the same.
    sources: [{ id: 'gates', live: 30 * 1_100, draft: 30 * 500, bands: surely }],
    teams: [{ id: 'harbour', live: 30 * 1_657, draft: 30 * 1_057, bands: surely }],
    shapes: [],
    surge: null,
  });
  expect(flowsOfMoves(moves)).toEqual(expect.arrayContaining([...flows]));
  expect(addedCost(flows, prices, plans)).toBe(-6n * unit);
  // Another retention alone costs something else too.
  const shorter = answerWithMoney(findings, { prices, plans: { ...plans, draft: plan('5d') }, times: 1, month }).money;
  expect([shorter?.live, shorter?.draft]).toEqual([1_657, 157 + 450]);
});

test('rows of a rehearsal add up to the whole, whatever flows', () => {
  const place = fc.tuple(
    fc.constantFrom('kept', 'excluded', 'passing', 'rejected'),
    fc.constantFrom('rest', 'audit', ''),
    fc.constantFrom('x', ''),
    fc.boolean(),
  );
  const amount = fc.integer({ min: 0, max: 1e6 }).map((bytes) => bytes / 7);
  const any = fc.array(
    fc.record({ source: fc.constantFrom('gates', 'tides'), live: place, draft: place, bytes: amount }),
    {
      maxLength: 30,
    },
  );
  // Of three units a byte: coins have to be shared.
  const odd: VolumePrices = {
    ...prices,
    costOf: (of, as) => ({ ...prices.costOf(of, as), kept: unit / 700n }),
  };
  fc.assert(
    fc.property(any, (list) => {
      const plans = { live: plan('10d'), draft: plan('3d') };
      const any = movesOf(transitionsOf(list.map((one) => transitionOf(one))), { count: 0, sources: new Map() });
      const money = answerWithMoney({ ...findings, moves: any }, { prices: odd, plans, times: 30, month }).money;
      const sum = (of: 'live' | 'draft') =>
        [...(money?.tiers ?? []), ...(money?.outcomes ?? [])].reduce((all, row) => all + row[of], 0);
      expect([sum('live'), sum('draft')]).toEqual([money?.live, money?.draft]);
    }),
  );
});

test('what a revision saved is measured against the plan before, of the sources that it changed', () => {
  const plans = { before: plan('10d'), after: plan('10d') };
  const came = (source: string, outcome: string, bytes: number, start = 0) => ({
    ...{ start, source, outcome, tier: outcome === 'passing' ? '' : 'rest', events: bytes, bytes, stored: 9 },
  });
  const noted = flowsOfChange(flows);
  expect(noted).toHaveLength(4);
  // Twice as much came from the gates as was rehearsed; of it 90 were kept, 110 excluded.
  const sums = [came('gates', 'kept', 50), came('gates', 'kept', 40, day), came('gates', 'excluded', 110, day)];
  const coins = (saved: ReadonlyMap<number, bigint>): readonly number[] =>
    [...saved.values()].map((money) => coinsOf(money, 2));
  // On the first day all 50 were kept, as before.
  expect(coins(savedByRevision(noted, [...sums, came('tides', 'kept', 999)], prices, plans))).toEqual([0, 110 * 10]);
  const longer = { before: plan('10d'), after: plan('30d') };
  expect(coins(savedByRevision(noted, sums, prices, longer))).toEqual([50 * 10 - 50 * 30, 150 * 10 - 40 * 30]);
  expect(savedByRevision([], sums, prices, plans).size).toBe(0);
});
