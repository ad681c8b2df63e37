import type { CostMonthAnswer } from '#core/answers/costs.ts';
import { volumePrices } from '#core/costs/volume-prices.ts';
import type { Database } from '#store/database.ts';
import { latestPriceBook } from '#store/plan/price-books.ts';
import { cachedBy } from '../base/cached-for.ts';
import { CostMonths, type SavedBook } from './cost-months.ts';
import { CostReader } from './cost-reader.ts';
import { RevisionSavings } from './revision-savings.ts';
import type { ShownPrices } from './shown-prices.ts';

/** For how long (milliseconds) prices are given again: volumes beside them are asked for every few seconds. */
const freshFor = 5_000;

/** What things cost, for all who ask. */
export class Costs {
  /** What costs are reckoned from. */
  readonly reader: CostReader;
  readonly months: CostMonths;
  /** What revisions saved. */
  readonly savings: RevisionSavings;
  private readonly pricesBy = cachedBy(
    freshFor,
    ({ savedAt }: SavedBook) => savedAt,
    async ({ book, savedAt }, now): Promise<ShownPrices> => {
      const { of, series } = await this.reader.read(book, now);
      return { ...volumePrices(of, series, now), savedAt };
    },
  );

  constructor(private readonly database: Database) {
    this.reader = new CostReader(database);
    this.months = new CostMonths(database, this.reader);
    this.savings = new RevisionSavings(database);
  }

  /** The price book that holds; undefined without one, and while money is turned off. */
  async book(): ReturnType<typeof latestPriceBook> {
    const latest = await latestPriceBook(this.database.db);
    return latest?.book.shown === false ? undefined : latest;
  }

  /** How the month stands by the book that holds; at most some seconds old. */
  async month(now: number): Promise<CostMonthAnswer> {
    return await this.months.current(await this.book(), now);
  }

  /**
   * What volume costs, to put beside it; undefined without a price book, and while money is turned off. A book that was saved
   * counts at once, owners and retentions after some seconds.
   */
  async prices(now: number): Promise<ShownPrices | undefined> {
    const latest = await this.book();
    return latest && (await this.pricesBy(latest, now));
  }
}
