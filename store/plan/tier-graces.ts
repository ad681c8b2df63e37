import { and, eq, gt, inArray, lte } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import type { Database, Queryable } from '../database.ts';
import { tierGraces } from './schema.ts';

/** Until when stored events of a tier stay that a revision shortened or took out. */
export type TierGrace = typeof tierGraces.$inferSelect;

/** Notes graces; call it inside the transaction that publishes the revision. */
export async function addTierGraces(tx: Queryable, graces: readonly Omit<TierGrace, 'id'>[]): Promise<void> {
  if (graces.length > 0)
    await tx.insert(tierGraces).values(graces.map((row) => ({ ...row, title: fitted(row.title, 200) })));
}

/** All graces, those that have run out among them. */
export async function listTierGraces(database: Database): Promise<readonly TierGrace[]> {
  return await database.db.select().from(tierGraces);
}

/** Graces that run at `now` (milliseconds). */
export async function runningTierGraces(database: Database, now: number): Promise<readonly TierGrace[]> {
  return await database.db.select().from(tierGraces).where(gt(tierGraces.until, now));
}

/** Prolongs a grace that still runs at `now` up to a time (milliseconds); false where none does. */
export async function prolongTierGrace(tx: Queryable, id: number, until: number, now: number): Promise<boolean> {
  const [done] = await tx
    .update(tierGraces)
    .set({ until })
    .where(and(eq(tierGraces.id, id), gt(tierGraces.until, now)));
  return done.affectedRows > 0;
}

/** Forgets graces that have run out, of tiers that a plan has again. */
export async function cutTierGraces(database: Database, tiers: readonly string[], now: number): Promise<void> {
  if (tiers.length === 0) return;
  await database.db.delete(tierGraces).where(and(lte(tierGraces.until, now), inArray(tierGraces.tier, [...tiers])));
}
