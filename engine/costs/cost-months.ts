import type { CostChange, CostMonthAnswer } from '#core/answers/costs.ts';
import type { PriceBook } from '#core/costs/book/price-book.ts';
import { priceChanges } from '#core/costs/book/price-changes.ts';
import { dayLength, dayOf } from '#core/costs/month/calendar.ts';
import { type AskedMonth, costMonth } from '#core/costs/month/cost-month.ts';
import type { Database } from '#store/database.ts';
import { revisionsBetween } from '#store/plan/plans.ts';
import { cachedBy } from '../base/cached-for.ts';
import type { CostReader } from './cost-reader.ts';

/** For how long (milliseconds) a month as it was reckoned is given again. */
const freshFor = 10_000;
/** Most revisions of a month that are listed. */
const mostChanges = 200;

/** A price book, and when it was saved (milliseconds). */
export interface SavedBook {
  readonly book: PriceBook;
  readonly savedAt: number;
}

/** What months come to. */
export class CostMonths {
  private readonly currentBy = cachedBy(
    freshFor,
    (latest: SavedBook | undefined) => latest?.savedAt,
    (latest) => this.with(latest?.book),
  );

  constructor(
    private readonly database: Database,
    private readonly reader: CostReader,
  ) {}

  /** The current month, for all who ask: at most some seconds old, and by the book that is given. */
  async current(latest: SavedBook | undefined, now: number): Promise<CostMonthAnswer> {
    return await this.currentBy(latest, now);
  }

  /** A month with any book; without one nothing of it is known. */
  async with(book: PriceBook | undefined, asked: AskedMonth = {}): Promise<CostMonthAnswer> {
    const now = Date.now();
    if (!book) return noMonth(now);
    const { series, of } = await this.reader.read(book, now);
    const month = costMonth(series, of, now, asked);
    return { ...month, changes: await this.changesIn(book, month) };
  }

  /** Revisions and prices that came into force in a month. */
  private async changesIn(
    book: PriceBook,
    { from, to }: { readonly from: number; readonly to: number },
  ): Promise<readonly CostChange[]> {
    const revisions = await revisionsBetween(this.database.db, { from, to }, mostChanges);
    return [
      ...revisions.map(({ number, note, publishedAt }) => ({ at: publishedAt, revision: number, text: note })),
      ...priceChanges(book, dayOf(from), dayOf(to)).map(({ day, text }) => ({
        at: day * dayLength,
        revision: null,
        text,
      })),
    ].sort((a, b) => a.at - b.at);
  }
}

function noMonth(now: number): CostMonthAnswer {
  const none = { days: [], toCome: [], budgets: [], changes: [] };
  return { currency: null, from: now, to: now, spent: 0, end: null, fullMonth: null, isOver: false, ...none };
}
