import { expect, test } from 'vitest';
import { parseCondition } from '#core/conditions/parse.ts';
import { rangeCondition } from './field-range.tsx';

const bars = Array.from({ length: 10 }, () => 1);
const range = { low: 0, high: 1, p50: 0.5, p95: 0.9, unit: 'none' as const, bars };

test.each([
  ['took', { ...range, low: 0.0372, high: 0.237, unit: 'duration' as const }, 0, 0, 'took in 37.2ms..57.2ms'],
  ['took', { ...range, high: 30, unit: 'duration' as const }, 5, 9, 'took in 15s..30s'],
  ['size', { ...range, high: 10_000, unit: 'size' as const }, 1, 2, 'size in 1000B..3000B'],
  ['n', { ...range, low: -5, high: 5 }, 0, 9, 'n in -5..5'],
  ['my field', { ...range, high: 7 }, 3, 3, '`my field` in 2.1..2.8'],
])('%s: bars become a range', (name, numbers, first, last, expected) => {
  const condition = rangeCondition(name, numbers, first, last);
  expect(condition).toBe(expected);
  expect(parseCondition(condition).problem).toBeUndefined();
});
