import { desc, eq } from 'drizzle-orm';
import type { PriceBook } from '#core/costs/book/price-book.ts';
import type { Queryable } from '../database.ts';
import { priceBooks } from './schema.ts';

/** The price book that holds, and when it was saved (milliseconds); undefined where there is none. */
export async function latestPriceBook(
  tx: Queryable,
): Promise<{ readonly book: PriceBook; readonly savedAt: number } | undefined> {
  const [row] = await tx.select().from(priceBooks).orderBy(desc(priceBooks.number)).limit(1);
  return row;
}

/** Price books that were saved before the one that holds, the latest first, at most `most`. */
export async function earlierPriceBooks(
  tx: Queryable,
  most: number,
): Promise<readonly { readonly book: PriceBook; readonly savedAt: number }[]> {
  return await tx.select().from(priceBooks).orderBy(desc(priceBooks.number)).limit(most).offset(1);
}

/** Saves a price book in the place of the one before, which stays in the store. */
export async function addPriceBook(tx: Queryable, book: PriceBook, savedAt: number): Promise<void> {
  await tx.insert(priceBooks).values({ book, savedAt });
}

/** Removes the price book that was saved at a time (milliseconds), where there is one. */
export async function removePriceBook(tx: Queryable, savedAt: number): Promise<void> {
  await tx.delete(priceBooks).where(eq(priceBooks.savedAt, savedAt));
}
