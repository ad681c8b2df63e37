import fc from 'fast-check';
import { expect, test } from 'vitest';
import { encode, hashBytes } from '../events/text-table.ts';
import { addToDistinct, distinctCount, mergeDistinct, newDistinctSketch } from './distinct.ts';
import { addToQuantiles, mergeQuantiles, newQuantileSketch, quantile } from './quantiles.ts';

test('a quantile is within 1.1 % of a value at its rank', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: -1e9, max: 1e9, noNaN: true }), { minLength: 1, maxLength: 200 }),
      fc.double({ min: 0, max: 0.999, noNaN: true }),
      (values, q) => {
        const sketch = newQuantileSketch();
        for (const value of values) addToQuantiles(sketch, value, 1);
        const sorted = [...values].sort((a, b) => a - b);
        const exact = sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))] as number;
        expect(Math.abs(quantile(sketch, q) - exact)).toBeLessThanOrEqual(Math.abs(exact) * 0.0112 + 1e-300);
      },
    ),
    { numRuns: 500 },
  );
});

test('merged sketches are the sketch of all values', () => {
  const [a, b, all] = [newQuantileSketch(), newQuantileSketch(), newQuantileSketch()];
  for (let i = 0; i < 1_000; i++) {
    addToQuantiles(i % 2 ? a : b, i * i, 2);
    addToQuantiles(all, i * i, 2);
  }
  mergeQuantiles(a, b);
  for (const q of [0, 0.5, 0.9, 0.999]) expect(quantile(a, q)).toBe(quantile(all, q));
  expect(quantile(newQuantileSketch(), 0.5)).toBeNaN();
});

test.each([10, 500, 5_000, 200_000])('%i different values are counted within four standard errors', (count) => {
  const [a, b] = [newDistinctSketch(), newDistinctSketch()];
  for (let i = 0; i < count; i++) {
    const text = encode(`passenger-${i}`);
    const hash = hashBytes(text, 0, text.length);
    addToDistinct(a, hash);
    if (i % 3 === 0) addToDistinct(b, hash);
  }
  mergeDistinct(a, b);
  expect(Math.abs(distinctCount(a) / count - 1)).toBeLessThan(count <= 500 ? 1e-9 : 0.065);
});

test('a value that is not finite leaves a sketch as it is', () => {
  const sketch = newQuantileSketch();
  for (const value of [1, Number.POSITIVE_INFINITY, Number.NaN, Number.NEGATIVE_INFINITY, 3])
    addToQuantiles(sketch, value, 1);
  expect(sketch.total).toBe(2);
  expect(quantile(sketch, 0.99)).toBeCloseTo(3, 1);
});
