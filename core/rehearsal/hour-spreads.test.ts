import { expect, test } from 'vitest';
import { hourSpreads } from './hour-spreads.ts';
import { movesOf } from './moves.ts';
import { excluded, transitionOf, transitionsOf } from './testing/transitions.ts';
import { slotCount } from './transitions.ts';

const spreadsOf = (list: readonly ReturnType<typeof transitionOf>[]) =>
  hourSpreads(movesOf(transitionsOf(list), { count: 0, sources: new Map() }));

test('of what a source sends, the share of each tier and how far hours are from it', () => {
  // Even hours keep 60 of 100 bytes, odd ones 40, of two shapes that come by turns.
  const even = (value: number, other: number) =>
    Array.from({ length: slotCount }, (_, slot) => (slot % 2 ? other : value));
  const kept = transitionOf({ shape: 'a', bytes: 50 * slotCount }, even(60, 40));
  const gone = transitionOf({ shape: 'b', bytes: 50 * slotCount, draft: excluded }, even(40, 60));
  const [spread, ...others] = spreadsOf([kept, gone]);
  expect(others).toEqual([]);
  expect(spread).toMatchObject({ source: 'gates', tier: 'rest', share: 0.5, hourly: 100 });
  expect(spread?.spread).toBeCloseTo(0.1 * Math.sqrt(slotCount / (slotCount - 1)));
});

test('what is kept whole differs in no hour; of what is not kept, and of nothing, nothing is told', () => {
  expect(spreadsOf([transitionOf({ bytes: 240 })])).toMatchObject([{ share: 1, spread: 0, hourly: 10 }]);
  expect(spreadsOf([transitionOf({ bytes: 240, draft: excluded })])).toEqual([]);
  expect(spreadsOf([])).toEqual([]);
});
