import fc from 'fast-check';
import { expect, test } from 'vitest';
import { outcomes } from '../routing/ledger.ts';
import { checkPriceBook } from './book/check-price-book.ts';
import type { KeptPoint, OwnRates, PriceBook, PriceEntry } from './book/price-book.ts';
import { costKeyOf, costKeys } from './cost-keys.ts';
import { coinsOfKeys } from './cost-rows.ts';
import { costSteps, stepStarts } from './cost-steps.ts';
import { added, type CostParts, CostTable, noCost, wholeOf } from './cost-table.ts';
import { type DaySeries, receivedByDay } from './day-series.ts';
import { DayTable } from './day-table.ts';
import { coinsOf, coinsOfParts, unit } from './money.ts';
import { dayLength, dayOfText, monthOf, textOfDay } from './month/calendar.ts';
import { compilePrices } from './prices.ts';
import { type KeptSince, retentionHistory } from './retention/retention-history.ts';
import { splitByField } from './split-by-field.ts';
import { withShares } from './with-shares.ts';

const first = dayOfText('2026-01-20');
const days = 60;
const sources = ['gates', 'tides', 'vessels'];
const tiers = ['rest', 'audit'];
const teamOf = (source: string): string => (source === 'gates' ? 'harbour' : source === 'tides' ? 'sea' : '');

const price = fc.integer({ min: 0, max: 50_000_000 }).map((value) => value / 1e6);
const curve = fc
  .uniqueArray(fc.record({ days: fc.integer({ min: 0, max: 60 }), price }), {
    minLength: 1,
    maxLength: 4,
    selector: (point) => point.days,
  })
  .map((points) => points.sort((a, b) => a.days - b.days));
const rates = fc.record({ received: price, kept: curve, stored: price, series: price }, { requiredKeys: [] });
const own = fc
  .tuple(rates, fc.constantFrom({ team: 'harbour' }, { tier: 'audit' }, { team: 'sea', tier: 'rest' }))
  .map(([of, whose]) => ({ ...of, ...whose }));
const entry = fc.tuple(rates, fc.array(own, { maxLength: 3 }), fc.integer({ min: 0, max: 900 }), fc.boolean());
const books = fc
  .uniqueArray(fc.tuple(fc.integer({ min: -5, max: days }), entry), {
    minLength: 1,
    maxLength: 4,
    selector: ([day]) => day,
  })
  .map((list): PriceBook => {
    const entries = list
      .sort(([a], [b]) => a - b)
      .map(([day, [of, others, above, isDiscounted]]): PriceEntry => {
        const discount = isDiscounted ? { above: above / 1e6, percent: 12.5 } : undefined;
        return { from: textOfDay(first + day), ...of, own: others, discount };
      });
    return { prices: 1, currency: { sign: 'cr', digits: 2 }, entries };
  });
const amount = fc.integer({ min: 0, max: 500_000 });
const row = {
  day: fc.integer({ min: first - 30, max: first + days - 1 }),
  source: fc.constantFrom(...sources),
  tier: fc.constantFrom(...tiers),
  outcome: fc.constantFrom(...outcomes),
  events: amount,
  bytes: amount,
};
/** Of each kind at most one a day, as the ledger adds up: what is stored for a part of a day is cut to whole bytes. */
const sums = fc.uniqueArray(fc.record({ ...row, stored: amount }), {
  minLength: 1,
  maxLength: 40,
  selector: ({ day, source, tier, outcome }) => `${day} ${source} ${tier} ${outcome}`,
});
const stretches = fc
  .uniqueArray(fc.tuple(fc.integer({ min: -40, max: days }), fc.integer({ min: 1, max: 900 })), {
    minLength: 1,
    maxLength: 3,
    selector: ([since]) => since,
  })
  .map((list): readonly KeptSince[] =>
    list
      .sort(([a], [b]) => a - b)
      .map(([since, hours]) => ({ since: (first + since) * dayLength, keep: hours * 3_600_000 })),
  );

/** Whether what came on a day is stored at a time, gone through hour by hour. */
function hoursOn(history: readonly KeptSince[], arrival: number, day: number): number {
  let isThere = true;
  let hours = 0;
  for (let at = arrival * 24; at < (day + 1) * 24 && isThere; at++) {
    const keep = (history.findLast(({ since }) => since <= at * 3_600_000) ?? history[0])?.keep ?? 0;
    isThere = at * 3_600_000 < arrival * dayLength + keep;
    if (isThere && at >= day * 24) hours++;
  }
  return hours;
}

/** A curve's price in millionths, said otherwise. */
function keptPrice(points: readonly KeptPoint[] | undefined, at: number): number {
  if (!points || points.length === 0) return 0;
  const [low, high] = [points.filter((point) => point.days <= at).at(-1), points.find((point) => point.days >= at)];
  if (!low || !high) return Math.round(((low ?? high)?.price ?? 0) * 1e6);
  if (high.days === low.days) return Math.round(low.price * 1e6);
  // By the hour, in whole numbers; a half is rounded up.
  const parts = BigInt(high.days - low.days) * 24n;
  const hours = BigInt(Math.round(at * 24) - low.days * 24);
  const [from, to] = [BigInt(Math.round(low.price * 1e6)), BigInt(Math.round(high.price * 1e6))];
  const sum = from * parts + (to - from) * hours;
  return Number((sum * 10n + parts * 5n) / (parts * 10n));
}

const names = {
  teamOf,
  fleetsOf: (source: string) => (source === 'gates' ? ['north', 'boats'] : []),
  currentShape: (id: string) => (id === 'cc' ? 'bb' : id),
};
const fieldShares = new Map([
  ['gates', new Map(Object.entries({ gate: 1 / 3, user: 1 / 7 }))],
  ['tides', new Map(Object.entries({ gate: 0.1, level: 0.899_999_999_999_9 }))],
]);
const sumOf = (parts: readonly CostParts[]): CostParts => parts.reduce(added, noCost);

/** Metric series of a day: none in the beginning. */
const seriesOn = (day: number): number => Math.max(0, (day - first) * 7 - 40);

function seriesOf(rows: Parameters<DayTable['replace']>[2]): readonly DaySeries[] {
  const table = new DayTable();
  table.replace(first - 100, first + 200, rows);
  return table.series();
}

test('a table of costs agrees with a plain recomputation, row by row and day by day, and its parts add up to the whole', () => {
  fc.assert(
    fc.property(books, sums, stretches, stretches, fc.integer({ min: 0, max: 20 }), (book, list, rest, audit, skip) => {
      const [from, to] = [first + skip, first + days];
      const histories = new Map([
        ['rest', rest],
        ['audit', audit],
        ['passing', [{ since: 0, keep: 3_600_000 }]],
        ['rejects', [{ since: 0, keep: 7 * dayLength }]],
      ]);
      const receivedOn = (day: number): number =>
        list.filter((sum) => sum.day === day).reduce((sum, { bytes }) => sum + bytes, 0);
      const setting = {
        prices: compilePrices(book),
        retention: retentionHistory(histories),
        teamOf,
        fleetsOf: () => [],
        receivedOn,
        seriesOn,
      };
      const table = new CostTable(from, to, setting);
      for (const series of seriesOf(list)) table.add(series.source, series);
      table.addMetricSeries('');

      // Plainly, in the units of money.
      const plain = new Map<string, bigint>();
      for (const sum of list) {
        const tierOf = sum.outcome === 'kept' ? sum.tier : sum.outcome === 'rejected' ? 'rejects' : 'passing';
        const history = histories.get(tierOf) ?? [];
        const ratesOn = (day: number) => {
          const entries = book.entries.filter((one) => dayOfText(one.from) <= day);
          const found = entries.at(-1);
          const fits = (found?.own ?? []).filter(
            ({ team, tier }: OwnRates) =>
              (team === undefined || team === teamOf(sum.source)) && (tier === undefined || tier === tierOf),
          );
          return {
            found,
            named: (rate: 'received' | 'kept' | 'stored') =>
              [...fits, found].find((one) => one?.[rate] !== undefined)?.[rate],
          };
        };
        let cost = 0n;
        if (sum.day >= from && sum.day < to) {
          const { found, named } = ratesOn(sum.day);
          const received =
            BigInt(sum.bytes) * BigInt(Math.round(((named('received') as number) ?? 0) * 1e6)) * (unit / 10n ** 15n);
          let before = 0;
          for (let at = monthOf(sum.day).from; at < sum.day; at++) before += receivedOn(at);
          const all = receivedOn(sum.day);
          const over = found?.discount ? Math.min(all, Math.max(0, before + all - found.discount.above * 1e9)) : 0;
          cost +=
            all === 0
              ? 0n
              : (received * (BigInt(all) * 1000n - BigInt(Math.round(over)) * 125n)) / (BigInt(all) * 1000n);
          const keep = (history.findLast(({ since }) => since < (sum.day + 1) * dayLength) ?? history[0])?.keep ?? 0;
          if (sum.outcome === 'kept')
            cost +=
              BigInt(sum.events) *
              BigInt(keptPrice(named('kept') as readonly KeptPoint[], keep / dayLength)) *
              (unit / 10n ** 12n);
        }
        for (let day = Math.max(from, sum.day); day < to; day++) {
          const hours = hoursOn(history, sum.day, day);
          const month = monthOf(day);
          const bytes = hours === 24 ? sum.stored : Math.floor((sum.stored * hours) / 24);
          const stored = BigInt(Math.round(((ratesOn(day).named('stored') as number) ?? 0) * 1e6));
          cost += (BigInt(bytes) * stored * (unit / 10n ** 15n)) / BigInt(month.to - month.from);
        }
        plain.set(sum.source, (plain.get(sum.source) ?? 0n) + cost);
      }
      let ofMetrics = 0n;
      for (let day = from; day < to; day++) {
        const month = monthOf(day);
        const price = book.entries.filter((one) => dayOfText(one.from) <= day).at(-1)?.series ?? 0;
        ofMetrics +=
          (BigInt(seriesOn(day)) * BigInt(Math.round(price * 1e6)) * (unit / 10n ** 6n)) /
          BigInt(month.to - month.from);
      }
      const byKey = table.byKey();
      expect(wholeOf(sumOf(byKey.get('') ?? []))).toBe(ofMetrics);
      for (const [source, cost] of plain) {
        const ours = wholeOf(sumOf(byKey.get(source) ?? []));
        // With a discount each row is cut at a unit.
        expect(Number(cost - ours)).toBeLessThan(5_000);
        expect(Number(ours - cost)).toBeLessThan(5_000);
      }
      const whole = sumOf([...byKey.values()].flat());
      expect(sumOf(table.byDay())).toEqual(whole);
    }),
    { numRuns: 300 },
  );
});

test('by all keys, pairs of them and steps the amounts agree, to the coin: rows, their parts and their steps add up', () => {
  const parts = fc.array(
    fc.record({ ...row, shape: fc.constantFrom('aa', 'bb', 'cc'), severity: fc.integer({ min: 0, max: 6 }) }),
    { minLength: 1, maxLength: 40 },
  );
  const key = fc.constantFrom(...costKeys);
  fc.assert(
    fc.property(
      ...[books, sums, parts, stretches, fc.uniqueArray(key, { minLength: 1, maxLength: 2 })],
      fc.constantFrom(...costSteps),
      (book, more, shapes, rest, by, step) => {
        // What has a shape is a part of what came; what came has parts without any.
        const list = [...shapes.map((one) => ({ ...one, shape: '', severity: -1, stored: one.bytes >> 2 })), ...more];
        const whole = seriesOf(list);
        const reported = withShares(whole, seriesOf(shapes));
        for (const figure of ['events', 'bytes', 'stored'] as const) {
          const all = (series: readonly DaySeries[]) =>
            series.reduce((sum, one) => sum + one[figure].reduce((a, b) => a + b, 0), 0);
          expect(all(reported)).toBe(all(whole));
          expect(Math.min(...reported.map((one) => Math.min(0, ...one[figure])))).toBe(0);
        }
        const tablesOf = (series: readonly DaySeries[], keyOf: (one: DaySeries) => string, metricKey: string) => {
          const [from, to] = [first + 3, first + days];
          const histories = new Map(['rest', 'audit', 'passing', 'rejects'].map((tier) => [tier, rest]));
          const table = new CostTable(from, to, {
            ...{ prices: compilePrices(book), retention: retentionHistory(histories), teamOf, fleetsOf: () => [] },
            receivedOn: receivedByDay(whole),
            seriesOn,
          });
          for (const one of series) table.add(keyOf(one), one);
          table.addMetricSeries(metricKey);
          return table.byKey(stepStarts(from, to, step));
        };
        const all = sumOf([...tablesOf(whole, () => '', '').values()].flat());
        const unsplit = tablesOf(
          reported,
          (one) => JSON.stringify(by.map((name) => costKeyOf(one, name, names))),
          JSON.stringify(by.map(() => '')),
        );
        const field = by.indexOf('field');
        const keyed = field < 0 ? unsplit : splitByField(unsplit, field, fieldShares);
        for (const parts of [...keyed.values()].flat())
          expect(Object.values(parts).every((part) => part >= 0n)).toBe(true);
        const isDiscounted = book.entries.some(({ discount }) => discount);
        // A discount is cut at a unit of money for each key and day; stores that lie for a part of a day at a byte.
        const near = isDiscounted ? 100_000 : 0;
        const { received, kept, series } = sumOf([...keyed.values()].flat());
        expect(Math.abs(Number(received - all.received))).toBeLessThanOrEqual(near);
        expect(kept).toBe(all.kept);
        expect(series).toBe(all.series);
        const { rows, all: coins } = coinsOfKeys(keyed, 2, 4);
        expect(rows.length).toBeLessThanOrEqual(5);
        expect(rows.reduce((sum, { whole: count }) => sum + count, 0)).toBe(coins.whole);
        for (const { whole: count, steps, ...of } of rows) {
          expect(of.received + of.kept + of.stored + of.series).toBe(count);
          expect(steps.reduce((sum, one) => sum + one, 0)).toBe(count);
        }
        expect(coins.whole).toBe(coinsOf(wholeOf(sumOf([...keyed.values()].flat())), 2));
      },
    ),
    { numRuns: 200 },
  );
});

test('a book is refused with the place of everything that is wrong with it', () => {
  const problems = (book: object, names = {}) => {
    const checked = checkPriceBook(book, names);
    return checked.ok ? [] : checked.problems.map(({ path }) => path).sort();
  };
  const currency = { sign: 'cr', digits: 2 };
  expect(problems({ prices: 1, currency, entries: [{ from: '2026-01-01', received: 9.5 }] })).toEqual([]);
  expect(problems({ prices: 2, currency, entries: [] })).toEqual(['entries', 'prices']);
  expect(
    problems({
      prices: 1,
      currency,
      entries: [
        { from: '2026-02-30', received: -1 },
        { from: '2026-02-01', stored: 1e308, kept: [{ days: 3 }] },
        { from: '2026-02-01', received: 0.00000001, own: [{ received: 1 }] },
      ],
    }),
  ).toEqual([
    'entries[0].from',
    'entries[0].received',
    'entries[1].kept[0].price',
    'entries[1].stored',
    'entries[2].received',
  ]);
  expect(
    problems(
      {
        prices: 1,
        currency,
        entries: [
          {
            from: '2026-03-01',
            kept: [
              { days: 9, price: 1 },
              { days: 3, price: 2 },
            ],
          },
          { from: '2026-02-01', own: [{ received: 1 }, { team: 'nobody', received: 1 }] },
          { from: '2026-02-01', own: [{ tier: 'none', stored: 1 }] },
        ],
        budgets: [{ amount: 5 }, { amount: 6 }, { amount: 7, team: 'sea', tier: 'rest' }],
      },
      { teams: new Set(['sea']), tiers: new Set(['rest']) },
    ),
  ).toEqual([
    'budgets[1]',
    'budgets[2]',
    'entries[0].kept[1].days',
    'entries[1].from',
    'entries[1].own[0]',
    'entries[1].own[1].team',
    'entries[2].from',
    'entries[2].own[0].tier',
  ]);
  expect(problems({ prices: 1, currency, entries: [{ from: '2026-01-01', recieved: 9 }] })).not.toEqual([]);
  expect(problems([])).not.toEqual([]);
});

test('coins of parts add up to those of the whole, and no part is off by a coin', () => {
  fc.assert(
    fc.property(fc.array(fc.bigInt({ min: -10_000n * unit, max: 10_000n * unit }), { maxLength: 20 }), (parts) => {
      const coins = coinsOfParts(parts, 2);
      const whole = parts.reduce((sum, part) => sum + part, 0n);
      expect(coins.reduce((sum, count) => sum + count, 0)).toBe(coinsOf(whole, 2));
      coins.forEach((count, i) => {
        const off = BigInt(count) * (unit / 100n) - (parts[i] as bigint);
        expect(off < unit / 100n && off > -unit / 100n).toBe(true);
      });
    }),
  );
});
