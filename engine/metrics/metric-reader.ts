import { measures } from '#core/metrics/measures/index.ts';
import type { MetricWindow, WindowTable } from '#core/metrics/metric-window.ts';
import { measureOf, pointsName } from '#core/plan/parts/metrics/metric.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import type { Database } from '#store/database.ts';
import { findMetric } from '#store/metrics/metrics.ts';
import type { Pools } from '../workers/pools.ts';

/** What of a metric is read. */
export interface MetricReading {
  readonly window: MetricWindow;
  /** One of the figures of its measure; what it has none of is answered with the first. */
  readonly figure: string;
  readonly by: readonly string[];
  /** Most groups that are told apart. */
  readonly most: number;
}

let lane = 0;

/** Reads the points of a metric; undefined where nothing ever came for it. */
export async function readMetric(
  { database, pools }: { readonly database: Database; readonly pools: Pools },
  metric: MetricDocument,
  reading: MetricReading,
): Promise<WindowTable | undefined> {
  const points = pointsName(metric);
  const number = await findMetric(database.db, metric.id, points);
  if (number === undefined) return undefined;
  const { figures } = measureOf(metric);
  const figure = Math.max(
    0,
    figures.findIndex(({ name }) => name === reading.figure),
  );
  return await pools.read(lane++, {
    kind: 'metricPoints',
    ...{ ...reading, metric: number, points, measure: metric.measure, figure },
  });
}

/** Whether a metric of a draft can be read: it has a measure. */
export function isReadable({ measure }: Pick<MetricDocument, 'measure'>): boolean {
  return measures.has(measure);
}
