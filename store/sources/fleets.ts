import { asc, eq } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { fleets } from './schema.ts';

export type Fleet = typeof fleets.$inferSelect;

/** All fleets by name. */
export async function listFleets(database: Database): Promise<readonly Fleet[]> {
  return await database.db.select().from(fleets).orderBy(asc(fleets.name));
}

/** Adds a fleet, or changes the one of that name. */
export async function saveFleet(tx: Queryable, fleet: Fleet): Promise<void> {
  await tx
    .insert(fleets)
    .values(fleet)
    .onDuplicateKeyUpdate({ set: { condition: fleet.condition } });
}

/** Removes a fleet; false where there was none of that name. */
export async function removeFleet(tx: Queryable, name: string): Promise<boolean> {
  const [{ affectedRows }] = await tx.delete(fleets).where(eq(fleets.name, name));
  return affectedRows > 0;
}
