import fc from 'fast-check';
import { expect, test } from 'vitest';
import { NewestRows } from './newest.ts';

/** Rows of a segment with these times, the earliest first. */
function found(segment: number, times: readonly number[]) {
  const sorted = Float64Array.from(times).sort();
  return { segment, rows: Int32Array.from(sorted.keys()), times: sorted };
}

const segments = fc.array(fc.array(fc.integer({ min: 0, max: 30 }), { maxLength: 12 }), { maxLength: 12 });

test('the newest of all rows are kept, in whatever order they come', () => {
  fc.assert(
    fc.property(segments, fc.integer({ min: 1, max: 20 }), fc.integer({ min: 1, max: 20 }), (times, most, fewer) => {
      const newest = new NewestRows(most);
      times.forEach((own, segment) => {
        newest.add(found(segment, own));
      });
      const wanted = (count: number): readonly number[] =>
        times
          .flat()
          .sort((a, b) => b - a)
          .slice(0, count);
      for (const count of [most, Math.min(most, fewer)]) {
        const kept = newest.newest(count);
        expect(kept.flatMap((part) => [...part.times]).sort((a, b) => b - a)).toEqual(wanted(count));
        for (const part of kept) {
          const own = found(0, times[part.segment] ?? []).times;
          expect([...part.rows].map((row) => own[row])).toEqual([...part.times]);
        }
      }
    }),
  );
});

test('what is not newer than all that is kept is not wanted any more', () => {
  const newest = new NewestRows(3);
  newest.add(found(1, [5, 6]));
  expect(newest.after).toBe(Number.NEGATIVE_INFINITY);
  newest.add(found(2, [7, 8, 9]));
  expect(newest.after).toBe(7);
  newest.add(found(3, [1, 2, 7]));
  expect(newest.newest().map(({ segment }) => segment)).toEqual([2]);
});

test('of none, none are kept', () => {
  const newest = new NewestRows(0);
  newest.add(found(1, [1, 2]));
  expect(newest.newest()).toEqual([]);
});
