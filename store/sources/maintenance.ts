import { asc, eq } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { maintenance } from './schema.ts';

export type MaintenanceWindow = typeof maintenance.$inferSelect;
export type NewMaintenanceWindow = typeof maintenance.$inferInsert;

/** All maintenance windows, past ones too. */
export async function listMaintenance(database: Database): Promise<readonly MaintenanceWindow[]> {
  return await database.db.select().from(maintenance).orderBy(asc(maintenance.from));
}

export async function addMaintenance(tx: Queryable, window: NewMaintenanceWindow): Promise<void> {
  await tx.insert(maintenance).values(window);
}

/** Removes a window; false where there was none of that number. */
export async function removeMaintenance(tx: Queryable, id: number): Promise<boolean> {
  const [{ affectedRows }] = await tx.delete(maintenance).where(eq(maintenance.id, id));
  return affectedRows > 0;
}
