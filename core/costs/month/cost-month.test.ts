import { expect, test } from 'vitest';
import type { PriceBook } from '../book/price-book.ts';
import { priceChanges } from '../book/price-changes.ts';
import { receivedByDay } from '../day-series.ts';
import { DayTable } from '../day-table.ts';
import { compilePrices } from '../prices.ts';
import { retentionHistory } from '../retention/retention-history.ts';
import { dayLength, dayOfText } from './calendar.ts';
import { costMonth } from './cost-month.ts';

const book: PriceBook = {
  prices: 1,
  currency: { sign: 'cr', digits: 2 },
  entries: [
    { from: '2026-09-01', received: 1 },
    { from: '2026-10-16', received: 2, stored: 0.125, own: [{ team: 'sea', received: 3 }] },
  ],
  budgets: [{ amount: 40 }, { amount: 20, team: 'sea' }, { amount: 50, fleet: 'piers' }],
};
const first = dayOfText('2026-10-01');
const table = new DayTable();
table.replace(
  first,
  first + 40,
  Array.from({ length: 40 }, (_, i) =>
    ['gates', 'tides'].map((source) => ({
      ...{ day: first + i, source, tier: 'rest', outcome: 'kept' as const, events: 1, bytes: 1e9, stored: 0 },
    })),
  ).flat(),
);
const series = table.series();
const setting = {
  prices: compilePrices(book),
  retention: retentionHistory(new Map([['rest', [{ since: 0, keep: 7 * dayLength }]]])),
  teamOf: (source: string) => (source === 'tides' ? 'sea' : ''),
  fleetsOf: (source: string) => (source === 'gates' ? ['piers', 'north'] : []),
  receivedOn: receivedByDay(series),
  seriesOn: () => 0,
};
// The ninth of November.
const now = (first + 39.5) * dayLength;

test('a month that is over is all spent; its budgets are those that hold now', () => {
  const october = costMonth(series, setting, now, { day: dayOfText('2026-10-12') });
  // Fifteen days at 1, sixteen at 2 and 3, of two sources.
  expect(october).toMatchObject({ isOver: true, spent: (15 * 2 + 16 * 5) * 100, end: null, toCome: [] });
  expect(october.days).toHaveLength(31);
  expect(october.budgets).toMatchObject([
    { team: null, amount: 4_000, crossedOn: '2026-10-17', halfOn: '2026-10-10', heading: null },
    { team: 'sea', spent: (15 + 48) * 100, crossedOn: '2026-10-17' },
    { fleet: 'piers', spent: (15 + 32) * 100, crossedOn: null, halfOn: '2026-10-20' },
  ]);
});

test('metric series cost their part of the month, go on to its end as they are today, and belong to no team', () => {
  const [entry, ...more] = book.entries;
  const prices = compilePrices({
    ...book,
    entries: [...(entry ? [{ ...entry, series: 0.6 }] : []), ...more.map((one) => ({ ...one, series: 1.2 }))],
  });
  // 31 series at 0.60 for each day of half of October, then 1.20; 30 series on each day of November.
  const withSeries = { ...setting, prices, seriesOn: (day: number) => (day < dayOfText('2026-11-01') ? 31 : 30) };
  const asked = { day: dayOfText('2026-10-12') };
  const [plain, october] = [costMonth(series, setting, now, asked), costMonth(series, withSeries, now, asked)];
  expect(october.spent - plain.spent).toBe((15 * 0.6 + 16 * 1.2) * 100);
  expect(october.days.map((coins, at) => coins - (plain.days[at] ?? 0))).toEqual([
    ...new Array(15).fill(60),
    ...new Array(16).fill(120),
  ]);
  const [before, november] = [costMonth(series, setting, now), costMonth(series, withSeries, now)];
  expect(november.spent - before.spent).toBe(9 * 120);
  expect((november.end?.middle ?? 0) - (before.end?.middle ?? 0)).toBe(30 * 120);
  expect((november.end?.high ?? 0) - (before.end?.high ?? 0)).toBe(30 * 120);
  expect(november.toCome.map((coins, at) => coins - (before.toCome[at] ?? 0))).toEqual([0, ...new Array(21).fill(120)]);
  // The budget for all has them, those of parts have not.
  expect(november.budgets.map(({ spent }, i) => spent - (before.budgets[i]?.spent ?? 0))).toEqual([9 * 120, 0, 0]);
  expect(costMonth(series, withSeries, now, { team: 'sea' })).toEqual(costMonth(series, setting, now, { team: 'sea' }));
});

test('the forecast of a month does not mistake tiers that fill up for growth', () => {
  const keep = new Map([['rest', [{ since: 0, keep: 30 * dayLength }]]]);
  const prices = compilePrices({
    ...{ prices: 1, currency: { sign: 'cr', digits: 2 } },
    entries: [{ from: '2026-09-01', received: 0.5, stored: 4 }],
  });
  const monthAt = (days: number, time: number) => {
    const day = { source: 'gates', tier: 'rest', outcome: 'kept' as const, events: 10, bytes: 1e9, stored: 2e8 };
    const lines = new DayTable();
    lines.replace(
      first + 12,
      first + 12 + days,
      Array.from({ length: days }, (_, i) => ({ ...day, day: first + 12 + i })),
    );
    const all = lines.series();
    return costMonth(
      all,
      { ...setting, prices, retention: retentionHistory(keep), receivedOn: receivedByDay(all) },
      time,
      { day: dayOfText('2026-11-01') },
    );
  };
  // The forecast twenty minutes into November, and the actual cost after it.
  const { spent, end, toCome } = monthAt(19, (dayOfText('2026-11-01') + 1 / 72) * dayLength);
  const { spent: whole } = monthAt(19 + 30, (dayOfText('2026-12-01') + 0.5) * dayLength);
  expect((end?.middle ?? 0) / whole).toBeCloseTo(1, 2);
  expect(end?.low ?? 0).toBeGreaterThan(0.9 * whole);
  expect(end?.high ?? 0).toBeLessThan(1.1 * whole);
  expect(spent + toCome.reduce((sum, coins) => sum + coins, 0)).toBeCloseTo(end?.middle ?? 0, -1);
});

test('after three days the forecast follows a new exclusion', () => {
  const prices = compilePrices({
    ...{ prices: 1, currency: { sign: 'cr', digits: 2 } },
    entries: [{ from: '2026-09-01', received: 0.5, stored: 4 }],
  });
  const lines = new DayTable();
  const excludedFrom = first + 28;
  lines.replace(
    first,
    first + 31,
    Array.from({ length: 31 }, (_, i) => ({
      ...{ day: first + i, source: 'gates', tier: 'rest', events: 10, bytes: 1e9 },
      ...(first + i < excludedFrom
        ? { outcome: 'kept' as const, stored: 2e8 }
        : { outcome: 'excluded' as const, stored: 0 }),
    })),
  );
  const all = lines.series();
  const november = dayOfText('2026-11-01');
  const { end } = costMonth(all, { ...setting, prices, receivedOn: receivedByDay(all) }, november * dayLength);
  // Receiving for thirty days, and storage of what was kept before until it expires.
  const lying = [4, 3, 2, 1].reduce((sum, days) => sum + days * 0.2 * 4, 0) / 30;
  expect((end?.middle ?? 0) / 100).toBeCloseTo(30 * 0.5 + lying, 0);
});

test('a team sees its own month alone', () => {
  const ofTeam = costMonth(series, setting, now, { team: 'sea' });
  expect(ofTeam).toMatchObject({ isOver: false, spent: 9 * 3 * 100 });
  expect(ofTeam.budgets).toMatchObject([{ team: 'sea', spent: ofTeam.spent }]);
  expect(costMonth(series, setting, now, { team: 'nobody' })).toMatchObject({ spent: 0, budgets: [] });
});

test('what prices changed in a month is put in words', () => {
  expect(priceChanges(book, first, first + 31)).toEqual([
    {
      day: first + 15,
      text: 'a GB received cr\u00a01.00 → cr\u00a02.00, a GB stored for a month cr\u00a00 → cr\u00a00.125, own rates changed',
    },
  ]);
  expect(priceChanges(book, first - 30, first)[0]?.text).toBe('the first prices hold');
  expect(priceChanges(book, first + 31, first + 60)).toEqual([]);
});
