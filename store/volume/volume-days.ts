import { and, eq, gte, lt, min, sql } from 'drizzle-orm';
import type { DayRow } from '#core/costs/day-table.ts';
import { dayLength, dayOf } from '#core/costs/month/calendar.ts';
import type { Outcome } from '#core/routing/ledger.ts';
import type { Database, Queryable } from '../database.ts';
import { sumShapes } from '../events/shapes.ts';
import { listDayStates } from './day-changes.ts';
import { sumLedger } from './ledger.ts';
import { dayChanges, ledger, shapeDays, volumeDays } from './schema.ts';

/** Days whose sums are made in one round; the rest waits for the next. */
const daysPerRound = 40;
/** Rows that are written by one statement. */
const rowsPerWrite = 1_000;
/** The most days without any change that are taken up at once. */
const mostNewDays = 800;

/** Days from `from` up to `to`. */
export interface DayWindow {
  readonly from: number;
  readonly to: number;
}

/** The volume of each day of a window. */
export type ReadDays<Row extends DayRow = DayRow> = (db: Queryable, window: DayWindow) => Promise<readonly Row[]>;

type VolumeDay = Required<Omit<DayRow, 'shape' | 'severity'>>;
type ShapeDay = Required<Omit<DayRow, 'stored'>>;

/** The sums of days that are over, as they were made. */
export const listVolumeDays: ReadDays<VolumeDay> = async (db, { from, to }) => {
  const rows = await db
    .select()
    .from(volumeDays)
    .where(and(gte(volumeDays.day, from), lt(volumeDays.day, to)));
  return rows.map(withOutcome);
};

/** The sums of shapes on days that are over, as they were made. */
export const listShapeDays: ReadDays<ShapeDay> = async (db, { from, to }) => {
  const rows = await db
    .select()
    .from(shapeDays)
    .where(and(gte(shapeDays.day, from), lt(shapeDays.day, to)));
  return rows.map(withOutcome);
};

/** The volume of days, added up from the ledger itself. */
export const addUpVolume: ReadDays<VolumeDay> = async (db, { from, to }) => {
  const window = { from: from * dayLength, to: to * dayLength };
  const sums = await sumLedger({ db }, window, ['source', 'tier', 'outcome'], dayLength);
  return sums.map(({ start, source = '', tier = '', outcome = '', events, bytes, stored }) =>
    withOutcome({ day: dayOf(start), source, tier, outcome, events, bytes, stored }),
  );
};

/** The volume of shapes on days, added up from what is counted of them. */
export const addUpShapes: ReadDays<ShapeDay> = async (db, { from, to }) => {
  const sums = await sumShapes({ db }, { from: from * dayLength, to: to * dayLength }, dayLength);
  return sums.map(({ start, ...sum }) => withOutcome({ ...sum, day: dayOf(start) }));
};

/** What was written in this column is an outcome. */
function withOutcome<Row extends { readonly outcome: string }>(row: Row): Row & { readonly outcome: Outcome } {
  return { ...row, outcome: row.outcome as Outcome };
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

/** Takes up days that ended without anything that came late: all since the first volume that are not known. */
async function takeUpDays({ db }: Database, before: number): Promise<void> {
  const [ever] = await db.select({ start: min(ledger.start) }).from(ledger);
  if (ever?.start == null) return;
  const first = Math.max(dayOf(ever.start), before - mostNewDays);
  const known = new Set((await listDayStates(db, first)).map(({ day }) => day));
  const days: { day: number; changes: number; summed: number }[] = [];
  for (let day = first; day < before; day++) if (!known.has(day)) days.push({ day, changes: 1, summed: 0 });
  if (days.length === 0) return;
  await db
    .insert(dayChanges)
    .values(days)
    // One that came late meanwhile has taken it up.
    .onDuplicateKeyUpdate({ set: { day: sql`values(${dayChanges.day})` } });
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
      await insertInParts(volume, (rows) => tx.insert(volumeDays).values(rows));
      await insertInParts(shapes, (rows) => tx.insert(shapeDays).values(rows));
      await tx.update(dayChanges).set({ summed: state.changes }).where(eq(dayChanges.day, day));
    },
    { isolationLevel: 'repeatable read', withConsistentSnapshot: true },
  );
}

async function insertInParts<Row>(rows: readonly Row[], insert: (part: Row[]) => PromiseLike<unknown>): Promise<void> {
  for (let i = 0; i < rows.length; i += rowsPerWrite) await insert(rows.slice(i, i + rowsPerWrite));
}
