import fc from 'fast-check';
import { expect, test } from 'vitest';
import { day, minute } from '../events/time-units.ts';
import { bucketsFor } from './histogram.ts';

test.each([
  ['an hour', 3_600_000, 60, minute],
  ['a week', 7 * day, 64, 3 * 3_600_000],
  ['a second', 1_000, 60, 20],
  ['ten years', 3_650 * day, 60, 61 * day],
])('%s has buckets of a width that people count by', (_, length, wanted, width) => {
  expect(bucketsFor({ from: 1_795_000_000_123, to: 1_795_000_000_123 + length }, wanted).width).toBe(width);
});

test('buckets cover their window, begin at multiples of their width, and are as many as wanted or one more', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: -(10 ** 12), max: 2 * 10 ** 12 }),
      fc.integer({ min: 1, max: 4_000 * day }),
      fc.integer({ min: 1, max: 1_000 }),
      (from, length, wanted) => {
        const { start, width, count } = bucketsFor({ from, to: from + length }, wanted);
        expect(Math.abs(start % width)).toBe(0);
        expect(start).toBeLessThanOrEqual(from);
        expect(start + width).toBeGreaterThan(from);
        expect(start + count * width).toBeGreaterThanOrEqual(from + length);
        expect(count).toBeLessThanOrEqual(wanted + 1);
        if (width >= minute) expect(width % minute).toBe(0);
      },
    ),
  );
});

test('where none are wanted there are none', () => {
  expect(bucketsFor({ from: 5, to: 10 }, 0).count).toBe(0);
});
