import { type GrownKey, grownKey } from '#core/metrics/grown-key.ts';
import { limitOf, pointsName } from '#core/metrics/metric.ts';
import type { MetricDocument, PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { countSeries, listMetrics, listSeries } from '#store/metrics.ts';
import { seriesSpan } from './known-metric.ts';

/** The series of a metric that something came for in the last 30 days. */
export interface MetricSeries {
  readonly series: number;
  /** The key that brought more values than there is room for; undefined where there is room. */
  readonly grown: GrownKey | undefined;
}

/** How many series each metric of a plan has, by its id. */
export async function metricSeries(
  { db }: Database,
  { metrics = [] }: PlanDocument,
  now: number,
): Promise<ReadonlyMap<string, MetricSeries>> {
  if (metrics.length === 0) return new Map();
  const since = now - seriesSpan;
  const [counts, stored] = await Promise.all([countSeries(db, since), listMetrics(db)]);
  const told = async (metric: MetricDocument): Promise<MetricSeries> => {
    const points = pointsName(metric);
    const number = stored.find((one) => one.metric === metric.id && one.points === points)?.number;
    if (number === undefined) return { series: 0, grown: undefined };
    // A metric without keys has the one series of all together, which has no row.
    if ((metric.by ?? []).length === 0) return { series: 1, grown: undefined };
    const series = counts.get(number) ?? 0;
    const hasRoom = series < limitOf(metric);
    return { series, grown: hasRoom ? undefined : grownKey(await listSeries(db, number, since), now) };
  };
  return new Map(await Promise.all(metrics.map(async (metric) => [metric.id, await told(metric)] as const)));
}
