import { and, asc, eq, gte, inArray, lt, lte, sql } from 'drizzle-orm';
import { later, type Queryable } from '../database.ts';
import { metricChunks, metricDays, metricDeltas, metricFills, metricSeries, metrics } from './schema.ts';

/** Rows that are written or looked for by one statement. */
const rowsAtOnce = 1_000;

/** Notes what a group brought for metrics; call it inside the transaction that stores its events. */
export async function addMetricDeltas(tx: Queryable, data: Uint8Array): Promise<void> {
  await later(tx, tx.insert(metricDeltas).values({ data }));
}

/** What groups brought, the first first, at most `most` of them. */
export async function readMetricDeltas(
  tx: Queryable,
  most: number,
): Promise<readonly { readonly id: number; readonly data: Uint8Array }[]> {
  return await tx.select().from(metricDeltas).orderBy(asc(metricDeltas.id)).limit(most);
}

/** Forgets what was put where it belongs. */
export async function removeMetricDeltas(tx: Queryable, ids: readonly number[]): Promise<void> {
  for (const some of pieces(ids)) await later(tx, tx.delete(metricDeltas).where(inArray(metricDeltas.id, [...some])));
}

/** Whose points are stored: a metric, by what it measures. */
export type StoredMetric = typeof metrics.$inferSelect;

/** All metrics that points are stored of, live or not. */
export async function listMetrics(tx: Queryable): Promise<readonly StoredMetric[]> {
  return await tx.select().from(metrics);
}

/** Gives a metric that is new in the store its number. */
export async function addMetric(tx: Queryable, metric: string, points: string): Promise<number> {
  await tx.insert(metrics).values({ metric, points }).onDuplicateKeyUpdate({ set: { metric } });
  const number = await findMetric(tx, metric, points);
  if (number === undefined) throw new Error(`The metric ${metric} got no number.`);
  return number;
}

/** The number of a metric that measures so; undefined where nothing ever came for it. */
export async function findMetric(tx: Queryable, metric: string, points: string): Promise<number | undefined> {
  const [row] = await tx
    .select({ number: metrics.number })
    .from(metrics)
    .where(and(eq(metrics.metric, metric), eq(metrics.points, points)));
  return row?.number;
}

/** A series, by its number and the values of its keys. */
export type StoredSeries = typeof metricSeries.$inferSelect;

/** The series of a metric that something came for since a time (milliseconds). */
export async function listSeries(tx: Queryable, metric: number, since: number): Promise<readonly StoredSeries[]> {
  return await tx
    .select()
    .from(metricSeries)
    .where(and(eq(metricSeries.metric, metric), gte(metricSeries.lastSeen, since)));
}

/** How many series of each metric something came for since a time (milliseconds). */
export async function countSeries(tx: Queryable, since: number): Promise<ReadonlyMap<number, number>> {
  const rows = await tx
    .select({ metric: metricSeries.metric, series: sql<number>`count(*)`.mapWith(Number) })
    .from(metricSeries)
    .where(gte(metricSeries.lastSeen, since))
    .groupBy(metricSeries.metric);
  return new Map(rows.map(({ metric, series }) => [metric, series]));
}

/** Writes when series were seen, and makes those that are not there. Returns the numbers of all of them by their hashes. */
export async function seeSeries(
  tx: Queryable,
  series: readonly Omit<StoredSeries, 'number'>[],
): Promise<ReadonlyMap<string, number>> {
  const numbers = new Map<string, number>();
  for (const some of pieces(series)) {
    await tx
      .insert(metricSeries)
      .values([...some])
      .onDuplicateKeyUpdate({
        set: {
          firstSeen: sql`least(${metricSeries.firstSeen}, values(${metricSeries.firstSeen}))`,
          lastSeen: sql`greatest(${metricSeries.lastSeen}, values(${metricSeries.lastSeen}))`,
        },
      });
    const rows = await tx
      .select({ number: metricSeries.number, hash: metricSeries.hash })
      .from(metricSeries)
      .where(
        and(
          eq(metricSeries.metric, some[0]?.metric ?? 0),
          inArray(
            metricSeries.hash,
            some.map(({ hash }) => hash),
          ),
        ),
      );
    for (const { hash, number } of rows) numbers.set(hash, number);
  }
  return numbers;
}

/** A chunk of points, packed. */
export type MetricChunk = typeof metricChunks.$inferSelect;

/** Where chunks are: of one metric, at one level. */
export interface ChunkPlace {
  readonly metric: number;
  readonly level: number;
}

/** The chunks of a metric at a level that begin at some times, of all series or some. Read to be changed, they are locked. */
export async function readChunks(
  tx: Queryable,
  { metric, level }: ChunkPlace,
  starts: readonly number[],
  { series, locked = false }: { readonly series?: readonly number[]; readonly locked?: boolean } = {},
): Promise<readonly MetricChunk[]> {
  if (starts.length === 0) return [];
  const query = tx
    .select()
    .from(metricChunks)
    .where(
      and(
        eq(metricChunks.metric, metric),
        eq(metricChunks.level, level),
        inArray(metricChunks.start, [...starts]),
        series && inArray(metricChunks.series, [...series]),
      ),
    );
  return locked ? await query.for('update') : await query;
}

/** The chunks of a metric at a level within a time that coarser levels do not have all of, of all series or some. */
export async function readFreshChunks(
  tx: Queryable,
  { metric, level }: ChunkPlace,
  { from, to }: { readonly from: number; readonly to: number },
  series?: readonly number[],
): Promise<readonly MetricChunk[]> {
  return await tx
    .select()
    .from(metricChunks)
    .where(
      and(
        eq(metricChunks.metric, metric),
        eq(metricChunks.level, level),
        gte(metricChunks.start, from),
        lt(metricChunks.start, to),
        eq(metricChunks.fresh, true),
        series && inArray(metricChunks.series, [...series]),
      ),
    );
}

/** Where chunks are that are over since a time (milliseconds) and are to go to coarser levels; the oldest first. */
export async function freshPlaces(
  tx: Queryable,
  level: number,
  before: number,
  most: number,
): Promise<readonly { readonly metric: number; readonly start: number }[]> {
  return await tx
    .select({ metric: metricChunks.metric, start: metricChunks.start })
    .from(metricChunks)
    .where(and(eq(metricChunks.fresh, true), eq(metricChunks.level, level), lte(metricChunks.start, before)))
    .groupBy(metricChunks.metric, metricChunks.start)
    .orderBy(asc(metricChunks.start))
    .limit(most);
}

/** Writes chunks in the place of those that are there. */
export async function writeChunks(tx: Queryable, chunks: readonly MetricChunk[]): Promise<void> {
  for (const some of pieces(chunks))
    await later(
      tx,
      tx
        .insert(metricChunks)
        .values([...some])
        .onDuplicateKeyUpdate({
          set: { fresh: sql`values(${metricChunks.fresh})`, data: sql`values(${metricChunks.data})` },
        }),
    );
}

/** Notes that coarser levels have all of some chunks that begin at a time. */
export async function settleChunks(
  tx: Queryable,
  { metric, level }: ChunkPlace,
  start: number,
  series: readonly number[],
): Promise<void> {
  for (const some of pieces(series))
    await tx
      .update(metricChunks)
      .set({ fresh: false })
      .where(
        and(
          eq(metricChunks.metric, metric),
          eq(metricChunks.level, level),
          eq(metricChunks.start, start),
          inArray(metricChunks.series, [...some]),
        ),
      );
}

/** Lets chunks of a level go that begin before a time (milliseconds), of one metric or all; those that are to go to coarser levels stay. */
export async function removeChunks(tx: Queryable, level: number, before: number, metric?: number): Promise<void> {
  await tx
    .delete(metricChunks)
    .where(
      and(
        eq(metricChunks.level, level),
        lt(metricChunks.start, before),
        eq(metricChunks.fresh, false),
        metric === undefined ? undefined : eq(metricChunks.metric, metric),
      ),
    );
}

/** Forgets the series of a metric that nothing came for since a time (milliseconds). */
export async function removeSeries(tx: Queryable, metric: number, before: number): Promise<void> {
  await tx.delete(metricSeries).where(and(eq(metricSeries.metric, metric), lt(metricSeries.lastSeen, before)));
}

/** Forgets everything that was measured by metrics of these ids. */
export async function forgetMetrics(tx: Queryable, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const known = await tx
    .select({ number: metrics.number })
    .from(metrics)
    .where(inArray(metrics.metric, [...ids]));
  const numbers = known.map(({ number }) => number);
  await tx.delete(metricDays).where(inArray(metricDays.metric, [...ids]));
  if (numbers.length === 0) return;
  for (const table of [metricChunks, metricSeries, metricFills])
    await tx.delete(table).where(inArray(table.metric, numbers));
  await tx.delete(metrics).where(inArray(metrics.number, numbers));
}

function pieces<Item>(list: readonly Item[]): readonly (readonly Item[])[] {
  return Array.from({ length: Math.ceil(list.length / rowsAtOnce) }, (_, i) =>
    list.slice(i * rowsAtOnce, (i + 1) * rowsAtOnce),
  );
}
