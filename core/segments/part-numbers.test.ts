import { expect, test } from 'vitest';
import { likelyNumber, numberParts } from './part-numbers.ts';

test('numbers are CRC-32, one above', () => {
  // The check value of CRC-32 is that of the digits 1 to 9.
  expect(likelyNumber('123456789')).toBe(0xcbf43926 + 1);
});

test('names that share a number get different ones', () => {
  // A known pair of words with the same CRC-32.
  expect(likelyNumber('plumless')).toBe(likelyNumber('buckeroo'));
  const numbers = numberParts(['plumless', 'buckeroo', 'time']);
  expect(new Set(numbers.values()).size).toBe(3);
});
