import type { CostMonthAnswer, CostsAnswer, PricesAnswer, RetentionCostAnswer } from '#core/answers/costs.ts';
import type { PriceBook } from '#core/costs/book/price-book.ts';
import { readPriceBook, writePriceBook } from '#core/costs/book/price-book-text.ts';
import { type CostKey, costKeyOf, isOfShapes } from '#core/costs/cost-keys.ts';
import type { CoinsOfCost } from '#core/costs/cost-rows.ts';
import { coinsOfCost, coinsOfKeys } from '#core/costs/cost-rows.ts';
import { type CostStep, stepStarts } from '#core/costs/cost-steps.ts';
import { type CostParts, CostTable } from '#core/costs/cost-table.ts';
import { coinsOfParts } from '#core/costs/money.ts';
import { dayLength, dayOf, dayOfText, textOfDay } from '#core/costs/month/calendar.ts';
import { daysOfMonth } from '#core/costs/retention/lifetime.ts';
import { retentionCost as reckonRetention } from '#core/costs/retention/retention-change.ts';
import { splitByField } from '#core/costs/split-by-field.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import { addPriceBook, earlierPriceBooks, latestPriceBook } from '#store/plan/price-books.ts';
import { listFleets } from '#store/sources/fleets.ts';
import { listSources } from '#store/sources/sources.ts';
import { designedPlan } from '../plan/stored-plans.ts';
import { command, question } from './handler.ts';
import { Refusal } from './refusal.ts';
import type { OperationServices } from './services.ts';

/** Longest window, in days. */
const longestWindow = 400;
/** Most price books of the past that are listed. */
const mostEarlier = 20;
/** Most rows of an answer; the rest is one. */
const mostRows = 500;

export const prices = question(operations.prices, async (_input, { database }): Promise<PricesAnswer> => {
  const latest = await latestPriceBook(database.db);
  const earlier = await earlierPriceBooks(database.db, mostEarlier);
  return {
    text: latest ? writePriceBook(latest.book) : null,
    savedAt: latest?.savedAt ?? null,
    shown: latest?.book.shown !== false,
    // Who takes one up wants its prices, whether money was shown then or not.
    history: earlier.map(({ book: { shown: _, ...book }, savedAt }) => ({ text: writePriceBook(book), savedAt })),
  };
});

export const savePrices = command(operations.savePrices, {
  subject: () => 'price book',
  record: ({ text }) => ({ characters: text.length }),
  carryOut: async ({ text, basedOn }, { tx, services, now }) => {
    if (basedOn !== undefined && basedOn !== ((await latestPriceBook(tx))?.savedAt ?? null)) {
      const detail = 'Your version was not saved. Close and reopen the panel to edit the current one.';
      throw new Refusal(409, 'Another price book was saved meanwhile', detail);
    }
    await addPriceBook(tx, await bookOf(text, services), now);
    return { savedAt: now };
  },
});

export const showPrices = command(operations.showPrices, {
  subject: ({ shown }) => (shown ? 'money on' : 'money off'),
  carryOut: async ({ shown }, { tx, now }) => {
    const latest = await latestPriceBook(tx);
    if (!latest) throw new Refusal(404, '', 'There is no price book.');
    const { shown: _, ...book } = latest.book;
    await addPriceBook(tx, shown ? book : { ...book, shown }, now);
    return {};
  },
});

export const tryPrices = question(operations.tryPrices, async ({ text }, services): Promise<CostMonthAnswer> => {
  return await services.costs.months.with(await bookOf(text, services));
});

export const costMonth = question(operations.costMonth, async ({ month, team }, services): Promise<CostMonthAnswer> => {
  const now = Date.now();
  if (month === undefined && team === undefined) return await services.costs.month(now);
  const day = month === undefined ? undefined : dayOfText(`${month}-01`);
  if (day !== undefined && day > dayOf(now)) throw new Refusal(400, '', 'That month is in the future.');
  return await services.costs.months.with((await services.costs.book())?.book, { day, team });
});

export const costs = question(
  operations.costs,
  async ({ from, to, by, every, team }, services): Promise<CostsAnswer> => {
    const now = Date.now();
    const last = to === undefined ? dayOf(now) + 1 : dayOfText(to);
    const first = from === undefined ? last - 30 : dayOfText(from);
    if (!(first < last)) throw new Refusal(400, '', 'The window ends before it begins.');
    if (last - first > longestWindow) throw new Refusal(400, '', `A window has at most ${longestWindow} days.`);
    const latest = await services.costs.book();
    const window = { from: first * dayLength, to: last * dayLength };
    if (!latest) return { currency: null, ...window, by, all: coinsOfCost([]), steps: [], rows: [] };
    // What was allowed at the edge are keys.
    const keys = by.split(',') as readonly CostKey[];
    const { series, of } = await services.costs.reader.read(latest.book, now, isOfShapes(keys));
    const table = new CostTable(first, last, of);
    const { teamOf, fleetsOf } = of;
    const names = { teamOf, fleetsOf, currentShape: services.shapes.known.current };
    for (const one of series)
      if (team === undefined || teamOf(one.source) === team)
        table.add(JSON.stringify(keys.map((key) => costKeyOf(one, key, names))), one);
    if (team === undefined) table.addMetricSeries(JSON.stringify(keys.map(() => '')));
    const starts = every === undefined ? [first] : stepStarts(first, last, every as CostStep);
    const bySource = table.byKey(starts);
    const field = keys.indexOf('field');
    const byKey = field < 0 ? bySource : splitByField(bySource, field, await services.tapedFields.liveShares());
    const { all, rows } = coinsOfKeys(byKey, latest.book.currency.digits, mostRows);
    return {
      currency: latest.book.currency,
      ...window,
      by,
      all,
      steps: every === undefined ? [] : starts.map((day) => day * dayLength),
      rows: rows.map(({ key, steps, ...coins }) => {
        const values: readonly string[] = key === null ? [] : JSON.parse(key);
        const line = services.shapes.get(values[keys.indexOf('shape')] ?? '')?.sample ?? '';
        return { ...coins, keys: values, line, steps: every === undefined ? [] : steps };
      }),
    };
  },
);

/** Refuses a tier that is in no plan, neither the live one nor the draft. */
async function checkTier({ database, plan }: OperationServices, tier: string): Promise<void> {
  const designed = await designedPlan(database.db);
  if (![...plan.current().plan.tiers, ...designed.plan.tiers].some(({ id }) => id === tier))
    throw new Refusal(404, '', `There is no tier ${tier}.`);
}

export const retentionCost = question(
  operations.retentionCost,
  async ({ tier, keep }, services): Promise<RetentionCostAnswer> => {
    const time = parseDuration(keep);
    if (time === undefined || time <= 0) throw new Refusal(400, '', 'keep is a duration with its unit, such as 7d.');
    const now = Date.now();
    await checkTier(services, tier);
    const latest = await services.costs.book();
    const none = { keep, currency: null, current: coinsOfCost([]), changed: coinsOfCost([]), settledOn: null };
    if (!latest) return none;
    const { currency } = latest.book;
    const { series, of, stretches } = await services.costs.reader.read(latest.book, now);
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
      keep,
      currency,
      current: coins(change.current),
      changed: coins(change.changed),
      settledOn: textOfDay(change.settledOn),
    };
  },
);

/** Reads a price book; refuses one that is wrong, with everything that is. */
async function bookOf(text: string, { database, plan }: OperationServices): Promise<PriceBook> {
  const teams = new Set((await listSources(database)).map(({ owner }) => owner));
  const tiers = new Set(plan.current().plan.tiers.map(({ id }) => id));
  const fleets = new Set((await listFleets(database)).map(({ name }) => name));
  const read = readPriceBook(text, { teams, fleets, tiers });
  if (read.ok) return read.book;
  throw new Refusal(400, '', 'Nothing was changed. The problems are listed.', { problems: read.problems });
}
