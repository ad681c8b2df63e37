import { and, asc, desc, eq, gte, lt } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import type { Database } from '../database.ts';
import { drifts } from './schema.ts';

export type StoredDrift = typeof drifts.$inferSelect;

/** Notes changes; texts that are too long are cut. */
export async function addDrifts(database: Database, rows: readonly (typeof drifts.$inferInsert)[]): Promise<void> {
  if (rows.length === 0) return;
  await database.db.insert(drifts).values(
    rows.map((row) => ({
      ...row,
      subject: fitted(row.subject, 200),
      text: fitted(row.text, 500),
      shows: fitted(row.shows, 500),
    })),
  );
}

/** Changes noticed since a time (milliseconds), the newest first; of one source when given. */
export async function listDrifts(database: Database, since: number, source?: string): Promise<readonly StoredDrift[]> {
  return await database.db
    .select()
    .from(drifts)
    .where(and(gte(drifts.noticedAt, since), source === undefined ? undefined : eq(drifts.source, source)))
    .orderBy(desc(drifts.noticedAt))
    .limit(500);
}

/** Changes that began between two times (milliseconds, `to` exclusive), earliest first, at most `most`. */
export async function driftsBetween(
  database: Database,
  { from, to }: { readonly from: number; readonly to: number },
  most: number,
): Promise<readonly StoredDrift[]> {
  return await database.db
    .select()
    .from(drifts)
    // A change is noticed after it began, so the index on that time narrows the search.
    .where(and(gte(drifts.noticedAt, from), gte(drifts.since, from), lt(drifts.since, to)))
    .orderBy(asc(drifts.since))
    .limit(most);
}

/** Forgets changes noticed before a time. */
export async function cutDrifts(database: Database, before: number): Promise<void> {
  await database.db.delete(drifts).where(lt(drifts.noticedAt, before));
}
