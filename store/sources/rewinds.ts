import { eq, ne } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { rewinds } from './schema.ts';

/** A source that is, or was last, read again. */
export type Rewind = typeof rewinds.$inferSelect;

/** The last rewind of every source that was ever read again. */
export async function listRewinds(database: Database): Promise<readonly Rewind[]> {
  return await database.db.select().from(rewinds);
}

/** The rewinds that are not done. */
export async function unfinishedRewinds(database: Database): Promise<readonly Rewind[]> {
  return await database.db.select().from(rewinds).where(ne(rewinds.step, 'done'));
}

/** Notes a rewind, in place of the source's last one. */
export async function saveRewind(tx: Queryable, rewind: Rewind): Promise<void> {
  const { source, ...rest } = rewind;
  await tx
    .insert(rewinds)
    .values({ source, ...rest })
    .onDuplicateKeyUpdate({ set: rest });
}

/** The rewind of a source; undefined for one that was never read again. */
export async function findRewind(database: Database, source: string): Promise<Rewind | undefined> {
  const [row] = await database.db.select().from(rewinds).where(eq(rewinds.source, source));
  return row;
}
