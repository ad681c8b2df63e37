import type { PriceBook } from '#core/costs/book/price-book.ts';
import { type VolumePrices, volumePrices } from '#core/costs/volume-prices.ts';
import type { Database } from '#store/database.ts';
import { latestPriceBook } from '#store/plan/price-books.ts';
import { CostReader } from './cost-reader.ts';

/** The price book that holds; undefined without one, and while money is turned off. */
export async function shownBook({ db }: Database): ReturnType<typeof latestPriceBook> {
  const latest = await latestPriceBook(db);
  return latest?.book.shown === false ? undefined : latest;
}

const readers = new WeakMap<Database, CostReader>();

/** Reads what costs are reckoned from, once for all who ask. */
export function costReader(database: Database): CostReader {
  let reader = readers.get(database);
  if (!reader) readers.set(database, (reader = new CostReader(database)));
  return reader;
}

/** For how long (milliseconds) prices are given again: volumes beside them are asked for every few seconds. */
const freshFor = 5_000;

/** Prices, and when their book was saved (milliseconds). */
export interface ShownPrices extends VolumePrices {
  readonly savedAt: number;
}

interface KnownPrices {
  readonly at: number;
  readonly savedAt: number;
  readonly prices: Promise<ShownPrices>;
}

const known = new WeakMap<Database, KnownPrices>();

/**
 * What volume costs, to put beside it; undefined without a price book, and while money is turned off. A book that was saved
 * counts at once, owners and retentions after some seconds.
 */
export async function shownPrices(database: Database, now: number): Promise<ShownPrices | undefined> {
  const latest = await shownBook(database);
  if (!latest) return undefined;
  const { savedAt } = latest;
  let found = known.get(database);
  if (!found || found.savedAt !== savedAt || now - found.at > freshFor) {
    found = { at: now, savedAt, prices: read(database, latest, now) };
    known.set(database, found);
    found.prices.catch(() => known.delete(database));
  }
  return await found.prices;
}

async function read(
  database: Database,
  { book, savedAt }: { readonly book: PriceBook; readonly savedAt: number },
  now: number,
): Promise<ShownPrices> {
  const { of, series } = await costReader(database).read(book, now);
  return { ...volumePrices(of, series, now), savedAt };
}
