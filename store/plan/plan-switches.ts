import { and, eq, lt } from 'drizzle-orm';
import { day } from '#core/events/time-units.ts';
import type { Queryable } from '../database.ts';
import { planSwitches } from './schema.ts';

/** Something of the plan that is switched for a while. Times in milliseconds. */
export type PlanSwitch = typeof planSwitches.$inferSelect;

/** How long what is over stays, in milliseconds. */
const overStays = day;

/** All that is or was switched lately. */
export async function listPlanSwitches(tx: Queryable): Promise<readonly PlanSwitch[]> {
  return await tx.select().from(planSwitches);
}

/** Switches something, in the place of how it was switched before; what was over long ago is forgotten. */
export async function switchPlan(tx: Queryable, row: PlanSwitch): Promise<void> {
  const { name: _, ...set } = row;
  await tx.insert(planSwitches).values(row).onDuplicateKeyUpdate({ set });
  await tx.delete(planSwitches).where(lt(planSwitches.until, row.since - overStays));
}

/** Ends a switch at a time; false where there was none. */
export async function endPlanSwitch(tx: Queryable, name: string, at: number): Promise<boolean> {
  const [{ affectedRows }] = await tx
    .update(planSwitches)
    .set({ until: at })
    .where(and(eq(planSwitches.name, name)));
  return affectedRows > 0;
}
