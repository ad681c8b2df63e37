import { desc, eq, lt, sql } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import type { Database, Queryable } from '../database.ts';
import { quarantine } from './schema.ts';

/** A delivery that was set aside, with its bytes. */
export type Quarantined = typeof quarantine.$inferSelect;

/** What is known of one without opening it. */
export type QuarantinedFacts = Pick<Quarantined, 'id' | 'source' | 'reason' | 'records' | 'bytes' | 'at'>;

/** Sets a delivery aside. */
export async function addToQuarantine(tx: Queryable, row: Omit<Quarantined, 'id'>): Promise<void> {
  await tx.insert(quarantine).values({ ...row, reason: fitted(row.reason, 500) });
}

/** What is set aside, the latest first, at most 200. */
export async function listQuarantine(database: Database): Promise<readonly QuarantinedFacts[]> {
  const { id, source, reason, records, bytes, at } = quarantine;
  return await database.db
    .select({ id, source, reason, records, bytes, at })
    .from(quarantine)
    .orderBy(desc(quarantine.at))
    .limit(200);
}

/** How much is set aside, by source. */
export async function countQuarantine(
  database: Database,
): Promise<
  readonly { readonly source: string; readonly deliveries: number; readonly records: number; readonly last: number }[]
> {
  return await database.db
    .select({
      source: quarantine.source,
      deliveries: sql<number>`count(*)`.mapWith(Number),
      records: sql<number>`sum(${quarantine.records})`.mapWith(Number),
      last: sql<number>`max(${quarantine.at})`.mapWith(Number),
    })
    .from(quarantine)
    .groupBy(quarantine.source);
}

/** Bytes of a source that are set aside. */
export async function quarantinedBytes(tx: Queryable, source: string): Promise<number> {
  const [row] = await tx
    .select({ bytes: sql<number>`coalesce(sum(${quarantine.bytes}), 0)`.mapWith(Number) })
    .from(quarantine)
    .where(eq(quarantine.source, source));
  return row?.bytes ?? 0;
}

/** One delivery that was set aside. */
export async function readQuarantined(database: Database, id: number): Promise<Quarantined | undefined> {
  const [row] = await database.db.select().from(quarantine).where(eq(quarantine.id, id));
  return row;
}

/** Takes one out; false where it is gone already. */
export async function removeQuarantined(tx: Queryable, id: number): Promise<boolean> {
  const [done] = await tx.delete(quarantine).where(eq(quarantine.id, id));
  return done.affectedRows > 0;
}

/** Lets go what was set aside before a time (milliseconds). */
export async function cutQuarantine(database: Database, before: number): Promise<void> {
  await database.db.delete(quarantine).where(lt(quarantine.at, before));
}
