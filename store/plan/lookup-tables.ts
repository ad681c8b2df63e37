import { asc, eq, sql } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { lookupTables } from './schema.ts';

export type StoredTable = typeof lookupTables.$inferSelect;

/** Names of all tables, when each was changed (milliseconds), and its length in characters. */
export async function listTables(
  database: Database,
): Promise<readonly { readonly name: string; readonly changedAt: number; readonly length: number }[]> {
  return await database.db
    .select({
      name: lookupTables.name,
      changedAt: lookupTables.changedAt,
      length: sql<number>`char_length(${lookupTables.csv})`.mapWith(Number),
    })
    .from(lookupTables)
    .orderBy(asc(lookupTables.name));
}

/** One table with its CSV; undefined when there is none of that name. */
export async function readTable(database: Database, name: string): Promise<StoredTable | undefined> {
  const [row] = await database.db.select().from(lookupTables).where(eq(lookupTables.name, name));
  return row;
}

/** Adds a table, or puts it in the place of the one of that name. */
export async function saveTable(tx: Queryable, table: StoredTable): Promise<void> {
  const { csv, changedAt } = table;
  await tx.insert(lookupTables).values(table).onDuplicateKeyUpdate({ set: { csv, changedAt } });
}

/** Removes a table; false where there was none of that name. */
export async function removeTable(tx: Queryable, name: string): Promise<boolean> {
  const [{ affectedRows }] = await tx.delete(lookupTables).where(eq(lookupTables.name, name));
  return affectedRows > 0;
}
