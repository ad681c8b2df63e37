import { expect, test } from 'vitest';
import type { Explanation } from './causes.ts';
import { addCountedSums, type CountedSums, newCountedSums, withCounts } from './counted-causes.ts';
import { measureOf } from './measure.ts';

const explanation: Explanation = {
  ...{ verdict: 'values', before: 1, since: 1, rest: 1, fields: 3, values: 9, combinations: 4 },
  causes: ['north', 'south'].map((value) => ({
    ...{ where: [{ field: 'port', value }], before: 0, since: 0, share: 0.3, band: 0.1, without: 0, also: [] },
  })),
};

/** Sums of a count by group: since the change, and in the earlier periods. */
function counts(...groups: readonly (readonly number[])[]): CountedSums {
  return { amounts: groups.map((periods) => periods.map((count) => Float64Array.of(count))) };
}

// The figure before is the median of the periods, while shares follow from their mean.
test('shares of a count are those of the whole difference, each event once', () => {
  const counted = counts([400, 100, 100, 100], [90, 40, 60, 50], [200, 190, 200, 210]);
  const exact = withCounts(explanation, counted, measureOf('events'), 1);
  expect(exact).toMatchObject({ since: 690, before: 360 });
  expect(exact.causes).toMatchObject([
    { before: 100, since: 400, share: 300 / 340, band: 0, without: 390 },
    { before: 50, since: 90, share: 40 / 340, band: 0, without: 250 },
  ]);
  expect(exact.rest).toBeCloseTo(0, 9);
});

test('an earlier period that is shorter counts as if it were as long', () => {
  const exact = withCounts(explanation, counts([40, 5], [20, 5], [100, 25]), measureOf('events'), 4);
  expect(exact).toMatchObject({ since: 160, before: 140, rest: 0 });
  expect(exact.causes.map(({ before, share }) => [before, share])).toEqual([
    [20, 1],
    [20, 0],
  ]);
});

test('a figure that does not add up is computed from all amounts', () => {
  const amounts = (...pairs: readonly (readonly [all: number, failed: number])[]) =>
    pairs.map((pair) => Float64Array.from(pair));
  const counted = { amounts: [amounts([100, 50], [100, 10]), amounts([10, 1], [10, 1]), amounts([90, 9], [90, 9])] };
  const exact = withCounts(explanation, counted, measureOf('share of status >= 500'), 1);
  expect(exact.since).toBeCloseTo(60 / 200, 9);
  expect(exact.before).toBeCloseTo(20 / 200, 9);
  expect(exact.causes[0]).toMatchObject({ before: 0.1, since: 0.5, share: 1 });
  expect(exact.causes[1]?.share).toBeCloseTo(0, 9);
});

test('sums of several tasks add up', () => {
  const sums = newCountedSums(1, 2, 1);
  const part = counts([1, 2, 3], [4, 5, 6]);
  addCountedSums(sums, part);
  addCountedSums(sums, part);
  expect(sums).toEqual(counts([2, 4, 6], [8, 10, 12]));
});
