import { expect, test } from 'vitest';
import { savingMonths } from './saving-months.ts';

const months = [{ month: '2026-12', days: 3, coins: 118 }];

test('a promise for 30 days counts for the days of each month, in its own currency only', () => {
  const promised = { coins: 1_200, band: 100, sign: 'cr' };
  expect(savingMonths(months, promised, 'cr')).toEqual([
    { month: '2026-12', days: 3, saved: 118, promised: 120, band: 10 },
  ]);
  const unknown = [{ month: '2026-12', days: 3, saved: 118, promised: null, band: 0 }];
  expect(savingMonths(months, promised, '$')).toEqual(unknown);
  expect(savingMonths(months, undefined, 'cr')).toEqual(unknown);
});
