import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { hour } from '../events/time-units.ts';
import { addToFrequent, mostFrequent, newFrequentSketch } from '../sketches/frequent.ts';
import { KeyTop } from './key-top.ts';

test('what comes most is counted within the bound that is shown', () => {
  const entries = fc.array(fc.tuple(fc.nat({ max: 400 }), fc.integer({ min: 1, max: 50 })), { maxLength: 1_500 });
  fc.assert(
    fc.property(entries, (list) => {
      const sketch = newFrequentSketch(20);
      const exact = new Map<string, number>();
      for (const [value, weight] of list) {
        addToFrequent(sketch, String(value), weight);
        exact.set(String(value), (exact.get(String(value)) ?? 0) + weight);
      }
      const total = list.reduce((sum, [, weight]) => sum + weight, 0);
      expect(sketch.total).toBe(total);
      expect(sketch.missed).toBeLessThanOrEqual(total / 21);
      const reported = new Map(mostFrequent(sketch, 400).map(({ value, count }) => [value, count]));
      for (const [value, count] of exact) {
        expect(reported.get(value) ?? 0).toBeLessThanOrEqual(count);
        expect((reported.get(value) ?? 0) + sketch.missed).toBeGreaterThanOrEqual(count);
      }
    }),
    { numRuns: 60 },
  );
});

describe('the top of a key', () => {
  test('is filled at once, and chosen anew by the hour', () => {
    const top = new KeyTop(2, undefined, 0);
    top.add('a', 10);
    expect(top.choose(0)).toBe(true);
    top.add('b', 5);
    top.add('c', 8);
    expect(top.choose(1)).toBe(true);
    expect(['a', 'b', 'c'].map((value) => top.has(value))).toEqual([true, false, true]);
    expect(top.choose(2)).toBe(false);
    top.add('b', 90);
    expect(top.choose(hour - 1)).toBe(false);
    expect(top.choose(hour)).toBe(true);
    expect(['a', 'b', 'c'].map((value) => top.has(value))).toEqual([true, true, false]);
  });

  test('does not flicker between values that come about as often', () => {
    const top = new KeyTop(1, undefined, 0);
    top.add('a', 100);
    top.choose(0);
    top.add('b', 110);
    top.choose(hour);
    expect(top.has('a')).toBe(true);
    top.add('b', 30);
    top.choose(2 * hour);
    expect(top.has('b')).toBe(true);
  });

  test('is the same after it was saved, and what came long ago counts less', () => {
    const top = new KeyTop(2, undefined, 0);
    top.add('a', 100);
    top.add('b', 50);
    top.choose(0);
    const again = new KeyTop(2, JSON.parse(JSON.stringify(top.save())), 5 * hour);
    expect(again.save()).toEqual(top.save());
    again.choose(24 * hour);
    again.add('c', 30);
    again.add('d', 28);
    again.choose(25 * hour);
    expect(['a', 'b', 'c', 'd'].map((value) => again.has(value))).toEqual([true, false, true, false]);
  });
});
