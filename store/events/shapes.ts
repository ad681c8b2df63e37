import { and, asc, desc, eq, gt, gte, inArray, lt, max, min, ne, sql } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import { excludedOutcomes, type Outcome, type ShapeVolume } from '#core/routing/ledger.ts';
import { addedUp } from '#core/routing/shape-counts.ts';
import type { DecidedShape } from '#core/shapes/decided-shape.ts';
import type { NewShape } from '#core/shapes/shaper.ts';
import { type Database, later, type Queryable } from '../database.ts';
import { noteDaysSince, noteLateDays } from '../volume/day-changes.ts';
import { rollUp } from '../volume/roll-up.ts';
import { shapeVolume } from '../volume/schema.ts';
import { newShapes, shapes } from './schema.ts';

/** Rows that are written by one statement. */
const rowsPerWrite = 1_000;

/** Notes shapes that are to be decided about; call it inside the transaction that stores their events. */
export async function addNewShapes(tx: Queryable, fresh: readonly NewShape[]): Promise<void> {
  for (let i = 0; i < fresh.length; i += rowsPerWrite)
    await later(
      tx,
      tx.insert(newShapes).values(
        fresh.slice(i, i + rowsPerWrite).map(({ id, skeleton, sample, source, at }) => {
          return { id, skeleton, sample, source, at: Math.floor(at) };
        }),
      ),
    );
}

/** What becomes of a row that is there already. */
const moreVolume = {
  span: sql`greatest(${shapeVolume.span}, values(${shapeVolume.span}))`,
  events: sql`${shapeVolume.events} + values(${shapeVolume.events})`,
  bytes: sql`${shapeVolume.bytes} + values(${shapeVolume.bytes})`,
};

/** Adds to the volume of shapes; call it inside the transaction that stores their events. `span` as in the ledger. */
export async function addShapeVolume(tx: Queryable, volumes: readonly ShapeVolume[], span = 0): Promise<void> {
  if (span === 0) await noteLateDays(tx, volumes, Date.now());
  for (let i = 0; i < volumes.length; i += rowsPerWrite) {
    const rows = volumes.slice(i, i + rowsPerWrite).map((row) => ({ ...row, span, tier: fitted(row.tier, 64) }));
    await later(tx, tx.insert(shapeVolume).values(rows).onDuplicateKeyUpdate({ set: moreVolume }));
  }
}

/** A shape that is to be decided about, by its number in the order in which they came. */
export type NumberedShape = NewShape & { readonly number: number };

/** Some of the shapes that are to be decided about, the first first. */
export async function listNewShapes(tx: Queryable, most: number): Promise<readonly NumberedShape[]> {
  return await tx.select().from(newShapes).orderBy(asc(newShapes.number)).limit(most);
}

/** Forgets shapes that were decided about. */
export async function removeNewShapes(tx: Queryable, numbers: readonly number[]): Promise<void> {
  for (let i = 0; i < numbers.length; i += rowsPerWrite)
    await tx.delete(newShapes).where(inArray(newShapes.number, numbers.slice(i, i + rowsPerWrite)));
}

/** What was decided about a shape, with what is known of its first line. */
export interface ShapeDecision extends DecidedShape {
  readonly sample: string;
  readonly source: string;
  readonly at: number;
}

/** Writes decisions under a version, which is greater than all before. */
export async function writeDecisions(
  tx: Queryable,
  decisions: readonly ShapeDecision[],
  version: number,
): Promise<void> {
  for (let i = 0; i < decisions.length; i += rowsPerWrite)
    await tx
      .insert(shapes)
      .values(
        decisions.slice(i, i + rowsPerWrite).map(({ id, skeleton, sample, source, into = '', at }) => {
          return { id, skeleton, sample, source, into, firstSeen: Math.floor(at), version };
        }),
      )
      .onDuplicateKeyUpdate({
        set: {
          skeleton: sql`values(${shapes.skeleton})`,
          into: sql`values(${shapes.into})`,
          version: sql`values(${shapes.version})`,
        },
      });
}

/** A shape as it was decided, and what is known of it. */
export interface StoredShape extends DecidedShape {
  readonly sample: string;
  readonly source: string;
  /** In milliseconds. */
  readonly firstSeen: number;
  readonly version: number;
  readonly wanted: boolean;
}

/** Decisions of a version later than `after`, the latest last. */
export async function shapesSince(tx: Queryable, after: number): Promise<readonly StoredShape[]> {
  const rows = await tx.select().from(shapes).where(gt(shapes.version, after)).orderBy(asc(shapes.version));
  return rows.map(({ into, ...shape }) => ({ ...shape, into: into === '' ? undefined : into }));
}

/** Shapes first seen between two times (milliseconds, `to` exclusive), earliest first, at most `most`. */
export async function shapesFirstSeen(
  tx: Queryable,
  { from, to }: { readonly from: number; readonly to: number },
  most: number,
): Promise<readonly Pick<StoredShape, 'id' | 'source' | 'sample' | 'firstSeen'>[]> {
  return await tx
    .select({ id: shapes.id, source: shapes.source, sample: shapes.sample, firstSeen: shapes.firstSeen })
    .from(shapes)
    .where(and(eq(shapes.into, ''), gte(shapes.firstSeen, from), lt(shapes.firstSeen, to)))
    .orderBy(asc(shapes.firstSeen))
    .limit(most);
}

/** Says whether a shape is wanted; false where there is none of that id. */
export async function setWanted(tx: Queryable, id: string, wanted: boolean, version: number): Promise<boolean> {
  const [{ affectedRows }] = await tx.update(shapes).set({ wanted, version }).where(eq(shapes.id, id));
  return affectedRows > 0;
}

/** A sum of the volume of a shape. */
export interface ShapeSum extends Omit<ShapeVolume, 'outcome'> {
  readonly outcome: string;
}

/** A window in milliseconds, `to` exclusive, and which shapes and sources count; absent: all. */
interface ShapeWindow {
  readonly from: number;
  readonly to: number;
  readonly ids?: readonly string[] | undefined;
  readonly sources?: readonly string[] | undefined;
}

/** The volume of shapes in a window, by stretches of `every` milliseconds that begin at `from` (0: all in one). */
export async function sumShapes(
  database: { readonly db: Queryable },
  { from, to, ids, sources }: ShapeWindow,
  every: number,
): Promise<readonly ShapeSum[]> {
  const start =
    every > 0 ? sql<number>`floor((${shapeVolume.start} - ${from}) / ${every}) * ${every} + ${from}` : sql<number>`0`;
  const { shape, source, tier, outcome, severity } = shapeVolume;
  return await database.db
    .select({
      start: start.mapWith(Number).as('bucket'),
      ...{ shape, source, tier, outcome, severity },
      events: sql<number>`sum(${shapeVolume.events})`.mapWith(Number),
      bytes: sql<number>`sum(${shapeVolume.bytes})`.mapWith(Number),
    })
    .from(shapeVolume)
    .where(
      and(
        gte(shapeVolume.start, from),
        lt(shapeVolume.start, to),
        ids && inArray(shape, ids.length > 0 ? [...ids] : ['']),
        sources && inArray(source, sources.length > 0 ? [...sources] : ['']),
      ),
    )
    .groupBy(sql.raw('bucket'), shape, source, tier, outcome, severity);
}

/** The shapes of what went past the cap of a tier, the one with most bytes first, at most `most`. Times in milliseconds. */
export async function overflowedShapes(
  database: Database,
  tier: string,
  { from, to }: { readonly from: number; readonly to: number },
  most: number,
): Promise<readonly { readonly shape: string; readonly events: number; readonly bytes: number }[]> {
  const bytes = sql<number>`sum(${shapeVolume.bytes})`.mapWith(Number);
  return await database.db
    .select({ shape: shapeVolume.shape, events: sql<number>`sum(${shapeVolume.events})`.mapWith(Number), bytes })
    .from(shapeVolume)
    .where(
      and(
        gte(shapeVolume.start, from),
        lt(shapeVolume.start, to),
        eq(shapeVolume.tier, tier),
        eq(shapeVolume.outcome, 'overflowed'),
      ),
    )
    .groupBy(shapeVolume.shape)
    .orderBy(desc(sql`sum(${shapeVolume.bytes})`))
    .limit(most);
}

/** From when on (milliseconds, as precisely as the ledger says) events of some shapes were excluded, looked for since a time. */
export async function excludedSince(
  tx: Queryable,
  ids: readonly string[],
  since: number,
): Promise<ReadonlyMap<string, number>> {
  const { shape, start, outcome } = shapeVolume;
  const rows = await tx
    .select({ shape, first: min(start).mapWith(Number) })
    .from(shapeVolume)
    .where(and(inArray(shape, [...ids]), gte(start, since), inArray(outcome, [...excludedOutcomes])))
    .groupBy(shape);
  return new Map(rows.map(({ shape: id, first }) => [id, first]));
}

/** When the first events of which the shape is known arrived (milliseconds, to the minute); undefined if there are none. */
export async function firstCounted(database: Database): Promise<number | undefined> {
  const { start } = shapeVolume;
  const [row] = await database.db.select({ start }).from(shapeVolume).orderBy(asc(start)).limit(1);
  return row?.start;
}

/** When each shape was first and last met (milliseconds, to the minute). */
export async function shapesSeen(
  database: Database,
): Promise<ReadonlyMap<string, { readonly first: number; readonly last: number }>> {
  const rows = await database.db
    .select({
      shape: shapeVolume.shape,
      first: min(shapeVolume.start).mapWith(Number),
      last: max(shapeVolume.start).mapWith(Number),
    })
    .from(shapeVolume)
    .groupBy(shapeVolume.shape);
  return new Map(rows.map(({ shape, first, last }) => [shape, { first, last }]));
}

/** Takes the volume of a source's shapes since a time (milliseconds) out. */
export async function removeShapeVolume(tx: Queryable, source: string, since: number): Promise<void> {
  await tx.delete(shapeVolume).where(and(eq(shapeVolume.source, source), gte(shapeVolume.start, since)));
  await noteDaysSince(tx, since);
}

/** Puts together by the hour what is too old to be kept by the minute, and by the day what is too old for hours. */
export async function rollUpShapes(database: Database, now: number): Promise<void> {
  const oldest = async (span: number, before: number): Promise<number | undefined> => {
    const [row] = await database.db
      .select({ start: shapeVolume.start })
      .from(shapeVolume)
      .where(and(eq(shapeVolume.span, span), lt(shapeVolume.start, before)))
      .orderBy(asc(shapeVolume.start))
      .limit(1);
    return row?.start;
  };
  await rollUp(now, oldest, async ({ start, step, from, to }) => {
    const within = and(gte(shapeVolume.start, start), lt(shapeVolume.start, start + step), eq(shapeVolume.span, from));
    await database.db.transaction(async (tx) => {
      const rows = await tx.select().from(shapeVolume).where(within).for('update');
      await tx.delete(shapeVolume).where(within);
      // What was written through this column is an outcome.
      const sums = addedUp(rows.map(({ span: _, ...row }) => ({ ...row, outcome: row.outcome as Outcome, start })));
      await addShapeVolume(tx, sums, to);
    });
  });
}

/**
 * Forgets ids that were merged into others, where there are more than `most`: the oldest first. Other forms of shapes stay;
 * their number is limited like that of shapes.
 */
export async function cutMergedShapes(database: Database, most: number): Promise<void> {
  const parts = and(ne(shapes.into, ''), eq(shapes.skeleton, []));
  const [last] = await database.db
    .select({ version: shapes.version })
    .from(shapes)
    .where(parts)
    .orderBy(sql`${shapes.version} desc`)
    .limit(1)
    .offset(most);
  if (last) await database.db.delete(shapes).where(and(parts, lt(shapes.version, last.version)));
}
