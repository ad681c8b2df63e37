import type {
  CoinsOfCost,
  CostMonthAnswer,
  CostsAnswer,
  PricesAnswer,
  RetentionCostAnswer,
} from '#core/answers/costs.ts';
import { dayLength, dayOf, dayOfText, textOfDay } from '#core/costs/calendar.ts';
import { type CostKey, costKeyOf, isOfShapes } from '#core/costs/cost-keys.ts';
import { costMonth as reckonMonth } from '#core/costs/cost-month.ts';
import { coinsOfCost, coinsOfKeys } from '#core/costs/cost-rows.ts';
import { type CostStep, stepStarts } from '#core/costs/cost-steps.ts';
import { type CostParts, CostTable } from '#core/costs/cost-table.ts';
import { coinsOfParts } from '#core/costs/money.ts';
import type { PriceBook } from '#core/costs/price-book.ts';
import { readPriceBook, writePriceBook } from '#core/costs/price-book-text.ts';
import { retentionCost as reckonRetention } from '#core/costs/retention-change.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import { addPriceBook, latestPriceBook } from '#store/price-books.ts';
import { listSources } from '#store/sources.ts';
import { CostReader } from '../costs/cost-reader.ts';
import { command, question } from './handler.ts';
import { Refusal } from './refusal.ts';
import type { OperationSetting } from './setting.ts';

/** Longest window, in days. */
const longestWindow = 400;
/** For how long (milliseconds) a month as it was reckoned is given again. */
const freshFor = 10_000;
/** Most rows of an answer; the rest is one. */
const mostRows = 500;

export const prices = question(operations.prices, async (_input, { database }): Promise<PricesAnswer> => {
  const latest = await latestPriceBook(database.db);
  return {
    text: latest ? writePriceBook(latest.book) : null,
    savedAt: latest?.savedAt ?? null,
    shown: latest?.book.shown !== false,
  };
});

export const savePrices = command(operations.savePrices, {
  subject: () => 'price book',
  record: ({ text }) => ({ characters: text.length }),
  carryOut: async ({ text }, { tx, setting, now }) => {
    await addPriceBook(tx, await bookOf(text, setting), now);
    return {};
  },
});

export const showPrices = command(operations.showPrices, {
  subject: ({ shown }) => (shown ? 'money on' : 'money off'),
  carryOut: async ({ shown }, { tx, now }) => {
    const latest = await latestPriceBook(tx);
    if (!latest) throw new Refusal(404, '', 'There is no price book whose prices could be shown.');
    const { shown: _, ...book } = latest.book;
    await addPriceBook(tx, shown ? book : { ...book, shown }, now);
    return {};
  },
});

export const tryPrices = question(
  operations.tryPrices,
  async ({ text }, setting): Promise<CostMonthAnswer> => await monthWith(setting, await bookOf(text, setting)),
);

export const costMonth = question(
  operations.costMonth,
  async (_input, setting): Promise<CostMonthAnswer> => await monthOfCosts(setting, Date.now()),
);

/** A month as it was reckoned with a book. */
interface ReckonedMonth {
  readonly at: number;
  readonly savedAt: number;
  readonly answer: Promise<CostMonthAnswer>;
}

const months = new WeakMap<OperationSetting, ReckonedMonth>();

/** How the month stands, for all who ask: at most some seconds old, and by the book that holds. */
export async function monthOfCosts(setting: OperationSetting, now: number): Promise<CostMonthAnswer> {
  const latest = await shownBook(setting);
  const savedAt = latest?.savedAt ?? 0;
  let month = months.get(setting);
  if (!month || month.savedAt !== savedAt || now - month.at > freshFor) {
    month = { at: now, savedAt, answer: monthWith(setting, latest?.book) };
    months.set(setting, month);
    month.answer.catch(() => months.delete(setting));
  }
  return await month.answer;
}

export const costs = question(operations.costs, async ({ from, to, by, every }, setting): Promise<CostsAnswer> => {
  const now = Date.now();
  const last = to === undefined ? dayOf(now) + 1 : dayOfText(to);
  const first = from === undefined ? last - 30 : dayOfText(from);
  if (!(first < last)) throw new Refusal(400, '', 'The window ends before it begins.');
  if (last - first > longestWindow) throw new Refusal(400, '', `A window has at most ${longestWindow} days.`);
  const latest = await shownBook(setting);
  const window = { from: first * dayLength, to: last * dayLength };
  if (!latest) return { currency: null, ...window, all: coinsOfCost([]), steps: [], rows: [] };
  // What was allowed at the edge are keys.
  const keys = by.split(',') as readonly CostKey[];
  const { series, of } = await readerOf(setting).read(latest.book, now, isOfShapes(keys));
  const table = new CostTable(first, last, of);
  const names = { teamOf: of.teamOf, currentShape: setting.shapes.known.current };
  for (const one of series) table.add(JSON.stringify(keys.map((key) => costKeyOf(one, key, names))), one);
  const starts = every === undefined ? [first] : stepStarts(first, last, every as CostStep);
  const { all, rows } = coinsOfKeys(table.byKey(starts), latest.book.currency.digits, mostRows);
  return {
    currency: latest.book.currency,
    ...window,
    all,
    steps: every === undefined ? [] : starts.map((day) => day * dayLength),
    rows: rows.map(({ key, steps, ...coins }) => {
      const told: readonly string[] = key === null ? [] : JSON.parse(key);
      const line = setting.shapes.get(told[keys.indexOf('shape')] ?? '')?.sample ?? '';
      return { ...coins, keys: told, line, steps: every === undefined ? [] : steps };
    }),
  };
});

/** Days that a month is reckoned with where it is none of the calendar. */
const daysOfMonth = 30;

export const retentionCost = question(
  operations.retentionCost,
  async ({ tier, keep }, setting): Promise<RetentionCostAnswer> => {
    const time = parseDuration(keep);
    if (time === undefined || time <= 0) throw new Refusal(400, '', 'keep is a duration with its unit, such as 7d.');
    const now = Date.now();
    const latest = await shownBook(setting);
    const none = { currency: null, now: coinsOfCost([]), settled: coinsOfCost([]), settledOn: null };
    if (!latest) return none;
    const { currency } = latest.book;
    const { series, of, stretches } = await readerOf(setting).read(latest.book, now);
    const change = reckonRetention(series, of, stretches, { tier, keep: time, now });
    if (!change) return { ...none, currency };
    const coins = ({ received, kept, stored }: CostParts): CoinsOfCost => {
      const [month, week] = [BigInt(daysOfMonth), 7n];
      return coinsOfCost(
        coinsOfParts(
          [received, kept, stored].map((part) => (part * month) / week),
          currency.digits,
        ),
      );
    };
    return {
      currency,
      now: coins(change.now),
      settled: coins(change.settled),
      settledOn: textOfDay(change.settledOn),
    };
  },
);

async function monthWith(setting: OperationSetting, book: PriceBook | undefined): Promise<CostMonthAnswer> {
  const now = Date.now();
  if (!book) return { currency: null, from: now, to: now, days: [], spent: 0, end: null, toCome: [], budgets: [] };
  const { series, of } = await readerOf(setting).read(book, now);
  return reckonMonth(series, of, now);
}

/** The price book that holds, unless money is turned off. */
async function shownBook({ database }: OperationSetting): ReturnType<typeof latestPriceBook> {
  const latest = await latestPriceBook(database.db);
  return latest?.book.shown === false ? undefined : latest;
}

/** Reads a price book; refuses one that is wrong, with everything that is. */
async function bookOf(text: string, { database, plan }: OperationSetting): Promise<PriceBook> {
  const teams = new Set((await listSources(database)).map(({ owner }) => owner));
  const tiers = new Set(plan.current().plan.tiers.map(({ id }) => id));
  const read = readPriceBook(text, { teams, tiers });
  if (read.ok) return read.book;
  throw new Refusal(400, '', 'Nothing was changed; what is wrong stands beside.', { problems: read.problems });
}

const readers = new WeakMap<OperationSetting, CostReader>();

function readerOf(setting: OperationSetting): CostReader {
  let reader = readers.get(setting);
  if (!reader) readers.set(setting, (reader = new CostReader(setting.database)));
  return reader;
}
