import { eq, min } from 'drizzle-orm';
import type { Queryable } from '../database.ts';
import { segments } from '../events/schema.ts';
import { metricFills } from './schema.ts';

/** A metric that is filled in from stored events, or was. */
export type MetricFill = typeof metricFills.$inferSelect;

/** The filling in of a metric, by its number; undefined where it never was. */
export async function findMetricFill(tx: Queryable, metric: number): Promise<MetricFill | undefined> {
  const [row] = await tx.select().from(metricFills).where(eq(metricFills.metric, metric));
  return row;
}

/** Those that are not done. */
export async function unfinishedFills(tx: Queryable): Promise<readonly MetricFill[]> {
  return await tx.select().from(metricFills).where(eq(metricFills.isDone, false));
}

/** Notes how far a metric is filled in. */
export async function saveMetricFill(tx: Queryable, { metric, ...rest }: MetricFill): Promise<void> {
  await tx
    .insert(metricFills)
    .values({ metric, ...rest })
    .onDuplicateKeyUpdate({ set: rest });
}

/** When the first event that is stored happened (milliseconds); undefined where none is. */
export async function firstStored(tx: Queryable): Promise<number | undefined> {
  const [row] = await tx.select({ from: min(segments.from) }).from(segments);
  return row?.from ?? undefined;
}
