import { gte, sql } from 'drizzle-orm';
import { dayLength, dayOf } from '#core/costs/month/calendar.ts';
import { later, type Queryable } from '../database.ts';
import { dayChanges } from './schema.ts';

/**
 * Notes that volume of days that are over is added to, so that their sums are made anew; call it inside the transaction
 * that adds it. Starts are in milliseconds.
 */
export async function noteLateDays(
  tx: Queryable,
  volumes: readonly { readonly start: number }[],
  now: number,
): Promise<void> {
  const today = dayOf(now);
  const late = new Set<number>();
  for (const { start } of volumes) if (start < today * dayLength) late.add(dayOf(start));
  if (late.size === 0) return;
  // In one order for all: who waits for each other would wait for ever.
  const rows = [...late].sort((a, b) => a - b).map((day) => ({ day, changes: 1, summed: 0 }));
  await later(
    tx,
    tx
      .insert(dayChanges)
      .values(rows)
      .onDuplicateKeyUpdate({ set: { changes: sql`${dayChanges.changes} + 1` } }),
  );
}

/** Notes that volume was taken out since a time (milliseconds). */
export async function noteDaysSince(tx: Queryable, since: number): Promise<void> {
  await tx
    .update(dayChanges)
    .set({ changes: sql`${dayChanges.changes} + 1` })
    .where(gte(dayChanges.day, dayOf(since)));
}

/** A day that is over, and whether its sums are made of all that came for it. */
export interface DayState {
  readonly day: number;
  /** Another one after each change of the day's volume. */
  readonly changes: number;
  readonly isSummed: boolean;
}

/** The days that are over and known, the earliest first. */
export async function listDayStates(db: Queryable, from: number): Promise<readonly DayState[]> {
  const rows = await db.select().from(dayChanges).where(gte(dayChanges.day, from)).orderBy(dayChanges.day);
  return rows.map(({ day, changes, summed }) => ({ day, changes, isSummed: summed === changes }));
}
