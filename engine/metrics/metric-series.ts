import { type GrownKey, grownKey } from '#core/metrics/grown-key.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { limitOf, pointsName } from '#core/plan/parts/metrics/metric.ts';
import type { Database } from '#store/database.ts';
import { countSeries, listMetrics, listSeries } from '#store/metrics/metrics.ts';
import { seriesSpan } from './known-metric.ts';

/** The series of a metric that something came for in the last 30 days. */
export interface MetricSeries {
  readonly series: number;
  /** The key that brought more values than there is room for; undefined where there is room. */
  readonly grown: GrownKey | undefined;
}

/** How many series each metric of a plan has, by its id. */
export async function metricSeries(
  database: Database,
  plan: PlanDocument,
  now: number,
): Promise<ReadonlyMap<string, MetricSeries>> {
  const counted = await countedSeries(database, plan, now);
  const withGrowth = async ([id, { series, number, limit }]: readonly [string, CountedSeries]) => {
    const isFull = number !== undefined && series >= limit;
    const grown = isFull ? grownKey(await listSeries(database.db, number, now - seriesSpan), now) : undefined;
    return [id, { series, grown }] as const;
  };
  return new Map(await Promise.all([...counted].map(withGrowth)));
}

/** How many series a metric has, and how many there is room for. */
export interface CountedSeries {
  readonly series: number;
  readonly limit: number;
  /** Its number in the store, where it has series of its own there. */
  readonly number: number | undefined;
}

/** The same without looking at the series themselves. */
export async function countedSeries(
  { db }: Database,
  { metrics = [] }: PlanDocument,
  now: number,
): Promise<ReadonlyMap<string, CountedSeries>> {
  if (metrics.length === 0) return new Map();
  const [counts, stored] = await Promise.all([countSeries(db, now - seriesSpan), listMetrics(db)]);
  return new Map(
    metrics.map((metric): [string, CountedSeries] => {
      const points = pointsName(metric);
      const limit = limitOf(metric);
      const number = stored.find((one) => one.metric === metric.id && one.points === points)?.number;
      if (number === undefined) return [metric.id, { series: 0, limit, number }];
      // A metric without keys has the one series of all together, which has no row.
      if ((metric.by ?? []).length === 0) return [metric.id, { series: 1, limit, number: undefined }];
      return [metric.id, { series: counts.get(number) ?? 0, limit, number }];
    }),
  );
}
