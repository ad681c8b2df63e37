import fc from 'fast-check';
import { expect, test } from 'vitest';
import { addGroups, type GroupedValues } from './grouped-quantiles.ts';
import { addToQuantiles, newQuantileSketch, type QuantileSketch, quantile } from './quantiles.ts';

const value = fc.oneof(
  fc.constantFrom(0, -0, 1, 2, 4, 0.5, 1e-320, 5e-324, 1e300, Number.NaN, Number.POSITIVE_INFINITY, -3, -1e-310),
  fc.double({ min: -1e6, max: 1e6, noNaN: true }),
);
const row = fc.record({ value, group: fc.integer({ min: 0, max: 4 }), weight: fc.constantFrom(1, 1, 10, 2.5) });

/** Every other row of a batch, so that rows and places differ. */
function grouped(rows: readonly { value: number; group: number; weight: number }[], count: number): GroupedValues {
  const all = rows.flatMap((one) => [{ ...one, value: 7 }, one]);
  return {
    rows: Int32Array.from(rows, (_, i) => 2 * i + 1),
    groups: Int32Array.from(rows, ({ group }) => group),
    count,
    values: Float64Array.from(all, (one) => one.value),
    weight: Float32Array.from(all, (one) => one.weight),
  };
}

test.each([
  ['counted in one table', 5],
  ['too many groups for one', 3_000_000],
])('values are added as one by one: %s', (_, count) => {
  fc.assert(
    fc.property(fc.array(row, { maxLength: 60 }), fc.boolean(), (some, unweighted) => {
      const sketches: (QuantileSketch | undefined)[] = [];
      const rows = unweighted ? some.map((one) => ({ ...one, weight: 1 })) : some;
      addGroups(sketches, { ...grouped(rows, count), unweighted });
      for (let group = 0; group < 5; group++) {
        const expected = newQuantileSketch();
        for (const one of rows) if (one.group === group) addToQuantiles(expected, one.value, one.weight);
        const sketch = sketches[group] ?? newQuantileSketch();
        expect(sketch.total).toBeCloseTo(expected.total, 6);
        for (const share of [0, 0.1, 0.5, 0.9, 0.999])
          expect(quantile(sketch, share)).toEqual(quantile(expected, share));
      }
    }),
    { numRuns: 300 },
  );
});
