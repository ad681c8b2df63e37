import type { CostChange, CostMonthAnswer } from '#core/answers/costs.ts';
import type { PriceBook } from '#core/costs/book/price-book.ts';
import { priceChanges } from '#core/costs/book/price-changes.ts';
import { dayLength, dayOf } from '#core/costs/month/calendar.ts';
import { type AskedMonth, costMonth } from '#core/costs/month/cost-month.ts';
import type { Database } from '#store/database.ts';
import { revisionsBetween } from '#store/plan/plans.ts';
import type { CostReader } from './cost-reader.ts';

/** For how long (milliseconds) a month as it was reckoned is given again. */
const freshFor = 10_000;
/** Most revisions of a month that are listed. */
const mostChanges = 200;

/** A price book, and when it was saved (milliseconds). */
interface SavedBook {
  readonly book: PriceBook;
  readonly savedAt: number;
}

/** A month as it was reckoned with a book. */
interface ReckonedMonth {
  readonly at: number;
  readonly savedAt: number;
  readonly answer: Promise<CostMonthAnswer>;
}

/** What months come to. */
export class CostMonths {
  private known: ReckonedMonth | undefined;

  constructor(
    private readonly database: Database,
    private readonly reader: CostReader,
  ) {}

  /** The current month, for all who ask: at most some seconds old, and by the book that is given. */
  async current(latest: SavedBook | undefined, now: number): Promise<CostMonthAnswer> {
    const savedAt = latest?.savedAt ?? 0;
    if (!this.known || this.known.savedAt !== savedAt || now - this.known.at > freshFor) {
      const answer = this.with(latest?.book);
      this.known = { at: now, savedAt, answer };
      answer.catch(() => {
        this.known = undefined;
      });
    }
    return await this.known.answer;
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
