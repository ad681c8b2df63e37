import { expect, test } from 'vitest';
import { unit } from '../money.ts';
import { coinsByMonth } from './coins-by-month.ts';

const third = unit / 300n;

test('days go to their calendar month, and rounded months add up to the whole', () => {
  const days = [28, 29, 30, 31, 32].map((day) => [Date.UTC(2026, 10, day), third] as const);
  const window = { from: Date.UTC(2026, 10, 28, 12), to: Date.UTC(2026, 11, 2, 6) };
  // Five thirds of a coin are two.
  expect(coinsByMonth(new Map(days), window, 2)).toEqual([
    { month: '2026-11', days: 2.5, coins: 1 },
    { month: '2026-12', days: 1.25, coins: 1 },
  ]);
});

test('a month without an amount has nothing, and no time has no months', () => {
  const window = { from: Date.UTC(2026, 0, 31), to: Date.UTC(2026, 2, 1) };
  expect(coinsByMonth(new Map(), window, 2).map(({ month, days, coins }) => [month, days, coins])).toEqual([
    ['2026-01', 1, 0],
    ['2026-02', 28, 0],
  ]);
  expect(coinsByMonth(new Map(), { from: 0, to: 0 }, 2)).toEqual([]);
});
