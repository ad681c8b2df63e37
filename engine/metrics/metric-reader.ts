import { measures } from '#core/metrics/measures/index.ts';
import { measureOf, pointsName } from '#core/metrics/metric.ts';
import type { WindowTable } from '#core/metrics/metric-window.ts';
import type { MetricDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { listMetrics } from '#store/metrics.ts';
import type { Pools } from '../workers/pools.ts';

/** What of a metric is read. Times in milliseconds. */
export interface MetricReading {
  readonly from: number;
  readonly to: number;
  /** One of the figures of its measure; what it has none of is told by the first. */
  readonly figure: string;
  readonly by: readonly string[];
  /** Most groups that are told apart. */
  readonly most: number;
  /** Most steps of the window; absent: as many as a chart shows. */
  readonly steps?: number;
}

let lane = 0;

/** Reads the points of a metric; undefined where nothing ever came for it. */
export async function readMetric(
  { database, pools }: { readonly database: Database; readonly pools: Pools },
  metric: MetricDocument,
  reading: MetricReading,
  now: number,
): Promise<WindowTable | undefined> {
  const points = pointsName(metric);
  const stored = (await listMetrics(database.db)).find((one) => one.metric === metric.id && one.points === points);
  if (!stored) return undefined;
  const { figures } = measureOf(metric);
  const figure = Math.max(
    0,
    figures.findIndex(({ name }) => name === reading.figure),
  );
  const { number } = stored;
  return await pools.read(lane++, {
    kind: 'metricPoints',
    ...{ ...reading, metric: number, points, measure: metric.measure, figure, now },
  });
}

/** Whether a metric of a draft can be read: it has a measure. */
export function isReadable({ measure }: Pick<MetricDocument, 'measure'>): boolean {
  return measures.has(measure);
}
