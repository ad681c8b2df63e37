import type { CoinsOfCost, CostMonthAnswer, CostsAnswer, PricesAnswer } from '#core/answers/costs.ts';
import { dayLength, dayOf, dayOfText } from '#core/costs/calendar.ts';
import type { CostKey } from '#core/costs/cost-keys.ts';
import { costMonth as reckonMonth } from '#core/costs/cost-month.ts';
import {
  added,
  type CostParts,
  type CostSetting,
  CostTable,
  type DaySum,
  noCost,
  wholeOf,
} from '#core/costs/cost-table.ts';
import { coinsOfParts } from '#core/costs/money.ts';
import type { PriceBook } from '#core/costs/price-book.ts';
import { readPriceBook, writePriceBook } from '#core/costs/price-book-text.ts';
import { compilePrices } from '#core/costs/prices.ts';
import { operations } from '#core/operations/index.ts';
import type { Outcome } from '#core/routing/ledger.ts';
import type { Database } from '#store/database.ts';
import { sumLedger } from '#store/ledger.ts';
import { addPriceBook, latestPriceBook } from '#store/price-books.ts';
import { listSources } from '#store/sources.ts';
import { RetentionLog } from '../costs/retention-log.ts';
import { recent } from '../recent.ts';
import { command, question } from './handler.ts';
import { Refusal } from './refusal.ts';
import type { OperationSetting } from './setting.ts';

/** How far back the ledger is looked at (days): what lies there longest came so long ago. */
const reach = 800;
/** Longest window, in days. */
const longestWindow = 400;
/** For how long (milliseconds) sums by the day are given again: those of today and yesterday, and those of days before. */
const freshFor = 10_000;
const settledFor = 300_000;
/** Most rows of an answer; the rest is one. */
const mostRows = 500;

export const prices = question(operations.prices, async (_input, { database }): Promise<PricesAnswer> => {
  const latest = await latestPriceBook(database.db);
  return { text: latest ? writePriceBook(latest.book) : null, savedAt: latest?.savedAt ?? null };
});

export const savePrices = command(operations.savePrices, {
  subject: () => 'price book',
  record: ({ text }) => ({ characters: text.length }),
  carryOut: async ({ text }, { tx, setting, now }) => {
    await addPriceBook(tx, await bookOf(text, setting), now);
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
  const latest = await latestPriceBook(setting.database.db);
  const savedAt = latest?.savedAt ?? 0;
  let month = months.get(setting);
  if (!month || month.savedAt !== savedAt || now - month.at > freshFor) {
    month = { at: now, savedAt, answer: monthWith(setting, latest?.book) };
    months.set(setting, month);
    month.answer.catch(() => months.delete(setting));
  }
  return await month.answer;
}

export const costs = question(operations.costs, async ({ from, to, by }, setting): Promise<CostsAnswer> => {
  const now = Date.now();
  const last = to === undefined ? dayOf(now) + 1 : dayOfText(to);
  const first = from === undefined ? last - 30 : dayOfText(from);
  if (!(first < last)) throw new Refusal(400, '', 'The window ends before it begins.');
  if (last - first > longestWindow) throw new Refusal(400, '', `A window has at most ${longestWindow} days.`);
  const latest = await latestPriceBook(setting.database.db);
  const window = { from: first * dayLength, to: last * dayLength };
  if (!latest) return { currency: null, ...window, all: coinsOfCost([]), rows: [] };
  const { sums, of } = await inputsOf(setting, latest.book, now);
  const table = new CostTable(first, last, of);
  for (const sum of sums) table.add(keyOf(sum, by, of), sum);
  const { currency } = latest.book;
  return { currency, ...window, ...rowsOf(table.byKey(), currency.digits) };
});

/** The rows of an answer, whose coins add up to those of all in each part. */
function rowsOf(costsByKey: ReadonlyMap<string, CostParts>, digits: number): Pick<CostsAnswer, 'all' | 'rows'> {
  const sorted = [...costsByKey].sort(([, a], [, b]) =>
    wholeOf(a) < wholeOf(b) ? 1 : wholeOf(a) > wholeOf(b) ? -1 : 0,
  );
  const rest = sorted.slice(mostRows).map(([, parts]) => parts);
  const told = sorted.slice(0, mostRows);
  if (rest.length > 0) told.push(['the rest', rest.reduce(added, noCost)]);
  const all = told.map(([, parts]) => parts).reduce(added, noCost);
  const wholes = coinsOfParts(
    told.map(([, parts]) => wholeOf(parts)),
    digits,
  );
  return {
    all: coinsOfCost(coinsOfParts([all.received, all.kept, all.stored], digits)),
    rows: told.map(([key, parts], i) => {
      return { key, ...coinsWithin(parts, wholes[i] as number, digits) };
    }),
  };
}

/** The parts of an amount in coins, which add up to what its whole was given. */
function coinsWithin(parts: CostParts, whole: number, digits: number): CoinsOfCost {
  const coins = [...coinsOfParts([parts.received, parts.kept, parts.stored], digits)];
  const left = whole - coins.reduce((sum, count) => sum + count, 0);
  const largest = coins.indexOf(Math.max(...coins));
  coins[largest] = (coins[largest] as number) + left;
  return coinsOfCost(coins);
}

function coinsOfCost([received = 0, kept = 0, stored = 0]: readonly number[]): CoinsOfCost {
  return { received, kept, stored, whole: received + kept + stored };
}

function keyOf(sum: DaySum, by: CostKey, { teamOf }: CostSetting): string {
  return by === 'team' ? teamOf(sum.source) : sum[by];
}

async function monthWith(setting: OperationSetting, book: PriceBook | undefined): Promise<CostMonthAnswer> {
  const now = Date.now();
  if (!book) return { currency: null, from: now, to: now, days: [], spent: 0, end: null, toCome: [], budgets: [] };
  const { sums, of } = await inputsOf(setting, book, now);
  return reckonMonth(sums, of, now);
}

/** Reads a price book; refuses one that is wrong, with everything that is. */
async function bookOf(text: string, { database, plan }: OperationSetting): Promise<PriceBook> {
  const teams = new Set((await listSources(database)).map(({ owner }) => owner));
  const tiers = new Set(plan.current().plan.tiers.map(({ id }) => id));
  const read = readPriceBook(text, { teams, tiers });
  if (read.ok) return read.book;
  throw new Refusal(400, '', 'Nothing was changed; what is wrong stands beside.', { problems: read.problems });
}

interface DayInputs {
  readonly sums: readonly DaySum[];
  readonly retention: CostSetting['retention'];
  /** By source. */
  readonly owners: ReadonlyMap<string, string>;
}

const inputs = new WeakMap<OperationSetting, (now: number) => Promise<DayInputs>>();

/** The ledger by the day and for how long tiers kept, at most some seconds old, with a book. */
async function inputsOf(
  setting: OperationSetting,
  book: PriceBook,
  now: number,
): Promise<{ readonly sums: readonly DaySum[]; readonly of: CostSetting }> {
  let days = inputs.get(setting);
  if (!days) inputs.set(setting, (days = dayInputs(setting)));
  const { sums, retention, owners } = await days(now);
  const received = new Map<number, number>();
  for (const { day, bytes } of sums) received.set(day, (received.get(day) ?? 0) + bytes);
  return {
    sums,
    of: {
      prices: compilePrices(book),
      retention,
      teamOf: (source) => owners.get(source) ?? '',
      receivedOn: (day) => received.get(day) ?? 0,
    },
  };
}

function dayInputs({ database }: OperationSetting): (now: number) => Promise<DayInputs> {
  const log = new RetentionLog(database);
  // The ledger of a year is much to go through, and hardly anything comes for days that are over.
  const settled = recent(settledFor, async (now) => {
    const until = dayOf(now) - 1;
    return { until, sums: await daySums(database, until - reach, until) };
  });
  return recent(freshFor, async (now) => {
    const { until, sums } = await settled(now);
    const [late, retention, sources] = await Promise.all([
      daySums(database, until, dayOf(now) + 2),
      log.history(),
      listSources(database),
    ]);
    return { sums: [...sums, ...late], retention, owners: new Map(sources.map(({ name, owner }) => [name, owner])) };
  });
}

/** Sums of the ledger by the day, `from` up to `to` in days. */
async function daySums(database: Database, from: number, to: number): Promise<readonly DaySum[]> {
  const window = { from: from * dayLength, to: to * dayLength };
  const rows = await sumLedger(database, window, ['source', 'tier', 'outcome'], dayLength);
  return rows.map(({ start, source = '', tier = '', outcome = '', events, bytes, stored }) => {
    // What was written in this column is an outcome.
    return { day: dayOf(start), source, tier, outcome: outcome as Outcome, events, bytes, stored };
  });
}
