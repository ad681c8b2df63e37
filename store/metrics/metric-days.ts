import { lt, sql } from 'drizzle-orm';
import type { Queryable } from '../database.ts';
import { metricDays } from './schema.ts';

/** Notes how many series metrics, by their ids, have on a day: the most that they had on it count. */
export async function noteMetricDay(tx: Queryable, day: number, series: ReadonlyMap<string, number>): Promise<void> {
  const rows = [...series].map(([metric, count]) => ({ day, metric, series: count }));
  if (rows.length === 0) return;
  await tx
    .insert(metricDays)
    .values(rows)
    .onDuplicateKeyUpdate({ set: { series: sql`greatest(${metricDays.series}, values(${metricDays.series}))` } });
}

/** How many series all metrics together had, by day. */
export async function seriesByDay(tx: Queryable): Promise<ReadonlyMap<number, number>> {
  const rows = await tx
    .select({ day: metricDays.day, series: sql<number>`sum(${metricDays.series})`.mapWith(Number) })
    .from(metricDays)
    .groupBy(metricDays.day);
  return new Map(rows.map(({ day, series }) => [day, series]));
}

/** Forgets days before one. */
export async function removeMetricDays(tx: Queryable, before: number): Promise<void> {
  await tx.delete(metricDays).where(lt(metricDays.day, before));
}
