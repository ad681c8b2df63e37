import { asc, eq } from 'drizzle-orm';
import type { Queryable } from '../database.ts';
import { savedSearches } from './schema.ts';

export type SavedSearch = typeof savedSearches.$inferSelect;

/** Most searches that can be saved. */
export const mostSavedSearches = 1_000;

/** All saved searches by name. */
export async function listSavedSearches(tx: Queryable): Promise<readonly SavedSearch[]> {
  return await tx.select().from(savedSearches).orderBy(asc(savedSearches.name)).limit(mostSavedSearches);
}

export async function findSavedSearch(tx: Queryable, name: string): Promise<SavedSearch | undefined> {
  const [row] = await tx.select().from(savedSearches).where(eq(savedSearches.name, name)).for('update');
  return row;
}

/** Saves a search, in place of the one of its name where there is one. */
export async function storeSavedSearch(tx: Queryable, search: SavedSearch): Promise<void> {
  const { name: _, ...set } = search;
  await tx.insert(savedSearches).values(search).onDuplicateKeyUpdate({ set });
}

/** Removes a saved search; false where there was none of that name. */
export async function removeSavedSearch(tx: Queryable, name: string): Promise<boolean> {
  const [{ affectedRows }] = await tx.delete(savedSearches).where(eq(savedSearches.name, name));
  return affectedRows > 0;
}
