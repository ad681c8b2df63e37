import { and, eq, gte, lt, max, min, sql } from 'drizzle-orm';
import { dayLength, dayOf } from '#core/costs/calendar.ts';
import type { Database, Queryable } from './database.ts';
import { dayChanges, ledger, shapeDays, shapeVolume, volumeDays } from './schema.ts';

/** Days whose sums are made in one round; the rest waits for the next. */
const daysPerRound = 40;
/** Rows that are written by one statement. */
const rowsPerWrite = 1_000;
/** The most days without any change that are taken up at once. */
const mostNewDays = 800;

/** The volume of a day. */
export interface VolumeDay {
  readonly day: number;
  readonly source: string;
  readonly tier: string;
  readonly outcome: string;
  readonly events: number;
  readonly bytes: number;
  readonly stored: number;
}

/** The volume of a shape on a day. */
export interface ShapeDay extends Omit<VolumeDay, 'stored'> {
  readonly shape: string;
  readonly severity: number;
}

/** Days from `from` up to `to`. */
export interface DayWindow {
  readonly from: number;
  readonly to: number;
}

/** Sums of days that are over, as they were made. */
export async function listVolumeDays(db: Queryable, { from, to }: DayWindow): Promise<readonly VolumeDay[]> {
  return await db
    .select()
    .from(volumeDays)
    .where(and(gte(volumeDays.day, from), lt(volumeDays.day, to)));
}

/** Sums of shapes of days that are over, as they were made. */
export async function listShapeDays(db: Queryable, { from, to }: DayWindow): Promise<readonly ShapeDay[]> {
  return await db
    .select()
    .from(shapeDays)
    .where(and(gte(shapeDays.day, from), lt(shapeDays.day, to)));
}

const bucketOf = (start: typeof ledger.start | typeof shapeVolume.start) =>
  sql<number>`floor(${start} / ${dayLength})`.mapWith(Number);

/** The volume of days, added up from the ledger itself. */
export async function addUpVolume(db: Queryable, { from, to }: DayWindow): Promise<readonly VolumeDay[]> {
  const { start, source, tier, outcome, events, bytes, stored } = ledger;
  return await db
    .select({
      day: bucketOf(start).as('day'),
      ...{ source, tier, outcome },
      events: sql<number>`sum(${events})`.mapWith(Number),
      bytes: sql<number>`sum(${bytes})`.mapWith(Number),
      stored: sql<number>`sum(${stored})`.mapWith(Number),
    })
    .from(ledger)
    .where(and(gte(start, from * dayLength), lt(start, to * dayLength)))
    .groupBy(sql.raw('day'), source, tier, outcome);
}

/** The volume of shapes on days, added up from what is held of them. */
export async function addUpShapes(db: Queryable, { from, to }: DayWindow): Promise<readonly ShapeDay[]> {
  const { start, shape, source, tier, outcome, severity, events, bytes } = shapeVolume;
  return await db
    .select({
      day: bucketOf(start).as('day'),
      ...{ shape, source, tier, outcome, severity },
      events: sql<number>`sum(${events})`.mapWith(Number),
      bytes: sql<number>`sum(${bytes})`.mapWith(Number),
    })
    .from(shapeVolume)
    .where(and(gte(start, from * dayLength), lt(start, to * dayLength)))
    .groupBy(sql.raw('day'), shape, source, tier, outcome, severity);
}

/**
 * Makes the sums of days that were over for a day at least and changed since their sums were made: who reads months need not
 * go through their hours. Each day is a transaction of its own; what is added to it meanwhile is not waited for, and found
 * the next time.
 */
export async function sumDays(database: Database, now: number): Promise<void> {
  const before = dayOf(now) - 1;
  await takeUpDays(database, before);
  const due = await database.db
    .select({ day: dayChanges.day })
    .from(dayChanges)
    .where(and(lt(dayChanges.day, before), sql`${dayChanges.summed} <> ${dayChanges.changes}`))
    .orderBy(dayChanges.day)
    .limit(daysPerRound);
  for (const { day } of due) await sumDay(database, day);
}

/** Takes up days that ended without anything that came late. */
async function takeUpDays({ db }: Database, before: number): Promise<void> {
  const [known] = await db
    .select({ day: max(dayChanges.day) })
    .from(dayChanges)
    .where(lt(dayChanges.day, before));
  const first = Math.max(known?.day == null ? await firstDay(db) : known.day + 1, before - mostNewDays);
  const days = Array.from({ length: Math.max(0, before - first) }, (_, i) => first + i);
  if (days.length === 0) return;
  await db
    .insert(dayChanges)
    .values(days.map((day) => ({ day, changes: 1, summed: 0 })))
    .onDuplicateKeyUpdate({ set: { day: sql`values(${dayChanges.day})` } });
}

/** The day of the first volume that there is; of none the end of all days. */
async function firstDay(db: Queryable): Promise<number> {
  const [first] = await db.select({ start: min(ledger.start) }).from(ledger);
  return first?.start == null ? Number.POSITIVE_INFINITY : dayOf(first.start);
}

async function sumDay(database: Database, day: number): Promise<void> {
  const window = { from: day, to: day + 1 };
  await database.db.transaction(
    async (tx) => {
      // All of it is read as of one moment: what came later has counted the day's changes up.
      const [state] = await tx.select().from(dayChanges).where(eq(dayChanges.day, day));
      if (!state) return;
      const [volume, shapes] = [await addUpVolume(tx, window), await addUpShapes(tx, window)];
      await tx.delete(volumeDays).where(eq(volumeDays.day, day));
      await tx.delete(shapeDays).where(eq(shapeDays.day, day));
      for (let i = 0; i < volume.length; i += rowsPerWrite)
        await tx.insert(volumeDays).values(volume.slice(i, i + rowsPerWrite));
      for (let i = 0; i < shapes.length; i += rowsPerWrite)
        await tx.insert(shapeDays).values(shapes.slice(i, i + rowsPerWrite));
      await tx.update(dayChanges).set({ summed: state.changes }).where(eq(dayChanges.day, day));
    },
    { isolationLevel: 'repeatable read', withConsistentSnapshot: true },
  );
}
