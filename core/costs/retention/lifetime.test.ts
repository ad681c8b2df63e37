import fc from 'fast-check';
import { expect, test } from 'vitest';
import { outcomes } from '../../routing/ledger.ts';
import type { PriceBook } from '../book/price-book.ts';
import { coinsOfFields } from '../coins-of-fields.ts';
import { coinsSaved, exactCoinsSaved } from '../coins-saved.ts';
import { added, type CostParts, type CostSetting, CostTable, noCost, wholeOf } from '../cost-table.ts';
import { receivedByDay } from '../day-series.ts';
import { type DayRow, DayTable } from '../day-table.ts';
import { unit } from '../money.ts';
import { dayLength, dayOfText } from '../month/calendar.ts';
import { compilePrices } from '../prices.ts';
import { volumePrices } from '../volume-prices.ts';
import { retentionHistory } from './retention-history.ts';

const today = dayOfText('2026-11-20');
const now = today * dayLength + dayLength / 2;
const hour = dayLength / 24;

function settingOf(book: PriceBook, rows: readonly DayRow[], keep: number) {
  const table = new DayTable();
  table.replace(today - 400, today + 1, rows);
  const series = table.series();
  const tiers = [
    ['rest', keep],
    ['passing', hour],
    ['rejects', 7 * dayLength],
  ] as const;
  const of: CostSetting = {
    prices: compilePrices(book),
    retention: retentionHistory(new Map(tiers.map(([tier, time]) => [tier, [{ since: 0, keep: time }]]))),
    teamOf: (source) => (source === 'gates' ? 'harbour' : ''),
    fleetsOf: () => [],
    receivedOn: receivedByDay(series),
    seriesOn: () => 0,
  };
  return { of, series };
}

const price = fc.integer({ min: 0, max: 9_000_000 }).map((value) => value / 1e6);

test('where the same comes every day, a month of days costs what that costs until it is gone', () => {
  fc.assert(
    fc.property(
      ...[price, price, price, price],
      fc.integer({ min: 1, max: 40 }),
      fc.constantFrom(...outcomes),
      fc.integer({ min: 1, max: 1e9 }),
      (received, kept, stored, own, days, outcome, bytes) => {
        const book: PriceBook = {
          prices: 1,
          currency: { sign: 'cr', digits: 2 },
          entries: [
            {
              from: '2020-01-01',
              received,
              kept: [{ days: 1, price: kept }],
              stored,
              own: [{ team: 'harbour', stored: own }],
            },
          ],
        };
        const volume = { source: 'gates', tier: 'rest', outcome, events: bytes >> 5, bytes, stored: (bytes >> 9) * 24 };
        const rows = Array.from({ length: 120 }, (_, i) => ({ ...volume, day: today - 119 + i }));
        const { of, series } = settingOf(book, rows, days * dayLength);
        // November has 30 days.
        const november = new CostTable(today - 19, today + 1, of);
        for (const one of series) november.add('', one);
        const measured = november.byDay().reduce(added, noCost);
        const reported = volumePrices(of, series, now).costOf(volume);
        const times = (parts: CostParts): readonly bigint[] => Object.values(parts).map((part: bigint) => part * 20n);
        expect(Object.values(measured)).toEqual(times(reported));
        // What is not known of the store is as it was in the last days.
        const { stored: _, ...unknown } = volume;
        expect(volumePrices(of, series, now).costOf(unknown)).toEqual(reported);
      },
    ),
    { numRuns: 200 },
  );
});

const book: PriceBook = {
  prices: 1,
  currency: { sign: 'cr', digits: 2 },
  entries: [
    { from: '2026-01-01', received: 100, kept: [{ days: 10, price: 6 }], stored: 30 },
    { from: '2026-11-20', received: 200, kept: [{ days: 10, price: 6 }], stored: 30 },
  ],
};
const rows = Array.from({ length: 10 }, (_, i) => ({
  ...{ source: 'gates', tier: 'rest', outcome: 'kept' as const, day: today - 9 + i },
  ...{ events: 1e6, bytes: 1e9, stored: 1e8 },
}));
const { of, series } = settingOf(book, rows, 10 * dayLength);
const prices = volumePrices(of, series, now);
const flow = { source: 'gates', tier: 'rest', outcome: 'kept', events: 1e6, bytes: 1e9 };
const inWhole = ({ received, kept, stored }: CostParts) =>
  [received, kept, stored].map((part) => Number((part * 100n) / unit) / 100);

test('volume costs what receiving, keeping and storing it does, by the prices of its day and as its tier keeps it', () => {
  // A tenth is stored, for ten days of thirty at 30 a GB.
  expect(inWhole(prices.costOf(flow))).toEqual([200, 6, 1]);
  expect(inWhole(prices.costOf(flow, { at: now - dayLength }))).toEqual([100, 6, 1]);
  expect(inWhole(prices.costOf(flow, { keepOf: () => 20 * dayLength }))).toEqual([200, 6, 2]);
  expect(inWhole(prices.costOf({ ...flow, source: 'unknown' }))).toEqual([200, 6, 1]);
  expect(inWhole(prices.costOf({ ...flow, outcome: 'excluded', stored: 24e8 }))).toEqual([200, 0, 0.1]);
});

test('what is not kept saves its keeping and its room, not its receiving', () => {
  expect(coinsSaved([flow], prices)).toBe(700);
  expect(coinsSaved([flow, { ...flow, outcome: 'sampled-out' }], prices, 30)).toBe(2 * 30 * 700 - 25);
  // Fractions of coins matter when the saving of an hour is scaled to a month.
  const little = { ...flow, events: flow.events / 1_000, bytes: flow.bytes / 1_000 };
  expect(coinsSaved([little], prices)).toBe(1);
  expect(exactCoinsSaved([little], prices)).toBeCloseTo(0.6996, 4);
});

test('a field costs its part of receiving and storing', () => {
  const shares = new Map([['gates', new Map([['user', 0.25]])]]);
  const came = [{ start: 0, source: 'gates', outcome: 'kept', tier: 'rest', events: 1e6, bytes: 1e9, stored: 1e8 }];
  expect([...coinsOfFields(shares, came, prices)]).toEqual([['user', 30 * 0.25 * 201 * 100]]);
  expect(wholeOf(prices.costOf(flow))).toBe(207n * unit);
});
