import { expect, test } from 'vitest';
import { seededRandom } from '../../routing/route.ts';
import { added, CostTable, noCost, wholeOf } from '../cost-table.ts';
import { receivedByDay } from '../day-series.ts';
import { type DayRow, DayTable } from '../day-table.ts';
import { inCurrency } from '../money.ts';
import { dayLength, dayOfText, textOfDay } from '../month/calendar.ts';
import { compilePrices } from '../prices.ts';
import { retentionCost } from './retention-change.ts';
import { type KeptSince, retentionHistory } from './retention-history.ts';

const changedOn = dayOfText('2026-10-14');
const prices = compilePrices({
  prices: 1,
  currency: { sign: 'cr', digits: 2 },
  entries: [
    {
      from: '2026-01-01',
      received: 2,
      kept: [
        { days: 1, price: 1 },
        { days: 30, price: 4 },
      ],
      stored: 50,
    },
  ],
});
const rhythm = [9, 10, 12, 11, 8, 3, 2];

/** Two sources of a tier by the day, up to a day; each week as the one before. */
function rowsUntil(last: number): readonly DayRow[] {
  const random = seededRandom(11);
  const shares = ['gates', 'tides'].map((source) => ({ source, of: 0.5 + random() }));
  return Array.from({ length: last - changedOn + 60 }, (_, i) => changedOn - 60 + i).flatMap((day) =>
    shares.map(({ source, of }) => {
      const came = Math.round((rhythm[day % 7] as number) * of * 1e6);
      return { day, source, tier: 'rest', outcome: 'kept', events: came, bytes: 300 * came, stored: 40 * came };
    }),
  );
}

function settingOf(stretches: ReadonlyMap<string, readonly KeptSince[]>, rows: readonly DayRow[]) {
  const table = new DayTable();
  table.replace(changedOn - 100, changedOn + 100, rows);
  const series = table.series();
  const retention = retentionHistory(stretches);
  return {
    series,
    of: {
      prices,
      retention,
      teamOf: () => '',
      fleetsOf: () => [],
      receivedOn: receivedByDay(series),
      seriesOn: () => 0,
    },
  };
}

test.each([
  ['15d to 7d', 15, 7, '2026-10-16'],
  ['7d to 15d', 7, 15, '2026-10-23'],
  ['15d to 15d', 15, 15, '2026-10-15'],
  ['7d to 1h', 7, 1 / 24, '2026-10-16'],
])('what is predicted for %s is what is measured once it has settled', (_, before, after, settledOn) => {
  const now = changedOn * dayLength + 9.5 * 3_600_000;
  const known = new Map([['rest', [{ since: 0, keep: before * dayLength }]]]);
  const then = settingOf(known, rowsUntil(changedOn));
  const change = { tier: 'rest', keep: after * dayLength, now };
  const predicted = retentionCost(then.series, then.of, known, change);
  expect(predicted && textOfDay(predicted.settledOn)).toBe(settledOn);

  // The clock goes on: each day is measured with what came, by the retention that was published.
  const since = after < before ? now + dayLength : now;
  const published = new Map([['rest', [...(known.get('rest') ?? []), { since, keep: after * dayLength }]]]);
  const first = dayOfText(settledOn);
  const later = settingOf(published, rowsUntil(first + 30));
  for (const week of [first, first + 7, first + 21]) {
    const table = new CostTable(week, week + 7, later.of);
    for (const series of later.series) table.add('', series);
    const measured = table.byDay().reduce(added, noCost);
    const ours = predicted?.changed ?? noCost;
    expect(inCurrency(measured.kept)).toBeCloseTo(inCurrency(ours.kept), 3);
    expect(inCurrency(measured.received)).toBeCloseTo(inCurrency(ours.received), 3);
    // A day of October has a 31st part of the month's price, one of November a 30th, as one is predicted.
    expect(inCurrency(measured.stored) / Math.max(1e-9, inCurrency(ours.stored))).toBeCloseTo(1, 1);
  }
});

test('a tier too young to be full is compared as it will be when it is full', () => {
  const now = changedOn * dayLength;
  const known = new Map([['rest', [{ since: 0, keep: 15 * dayLength }]]]);
  const young = settingOf(
    known,
    rowsUntil(changedOn).filter(({ day }) => day > changedOn - 9),
  );
  const at = (keep: number) =>
    retentionCost(young.series, young.of, known, { tier: 'rest', keep: keep * dayLength, now });
  const wholes = [14, 15, 16].map((keep) => inCurrency(wholeOf(at(keep)?.changed ?? noCost)));
  expect(wholes).toEqual(wholes.toSorted((a, b) => a - b));
  expect(at(15)?.changed).toEqual(at(15)?.current);
  expect(at(14)?.current).toEqual(at(15)?.current);
});

test('volume that had expired on arrival counts as what the tier takes', () => {
  const now = changedOn * dayLength;
  const known = new Map([['rest', [{ since: 0, keep: 3 * dayLength }]]]);
  const rows = rowsUntil(changedOn);
  const late = rows.map((row) => (row.day < changedOn - 3 ? { ...row, outcome: 'expired' as const, stored: 0 } : row));
  const costOf = (given: readonly DayRow[]) => {
    const { series, of } = settingOf(known, given);
    return retentionCost(series, of, known, { tier: 'rest', keep: 7 * dayLength, now });
  };
  const [inTime, tooLate] = [costOf(rows), costOf(late)];
  expect(tooLate?.settledOn).toBe(inTime?.settledOn);
  expect(inCurrency(wholeOf(tooLate?.changed ?? noCost))).toBeCloseTo(
    inCurrency(wholeOf(inTime?.changed ?? noCost)),
    3,
  );
});

test('of a tier that is not known for a week, or that settles in no time that counts, nothing is predicted', () => {
  const known = new Map([['rest', [{ since: 0, keep: dayLength }]]]);
  const { series, of } = settingOf(known, rowsUntil(changedOn));
  const now = changedOn * dayLength;
  expect(retentionCost(series, of, known, { tier: 'other', keep: dayLength, now })).toBeUndefined();
  expect(retentionCost(series, of, known, { tier: 'rest', keep: 36_500 * dayLength, now })).toBeUndefined();
  const young = settingOf(
    known,
    rowsUntil(changedOn).filter(({ day }) => day > changedOn - 5),
  );
  expect(retentionCost(young.series, young.of, known, { tier: 'rest', keep: dayLength, now })).toBeUndefined();
});
