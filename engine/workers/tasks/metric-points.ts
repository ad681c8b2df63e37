import { day, hour } from '#core/events/time-units.ts';
import { wholeSeries } from '#core/metrics/chunks.ts';
import { type ExposedMetric, exposition } from '#core/metrics/exposition.ts';
import type { SeriesLabels } from '#core/metrics/labels.ts';
import { type Level, placesOf } from '#core/metrics/levels.ts';
import { measures } from '#core/metrics/measures/index.ts';
import {
  chunkStarts,
  finerLevels,
  levelOf,
  type MetricWindow,
  type ReadChunk,
  WindowBuilder,
  type WindowTable,
} from '#core/metrics/metric-window.ts';
import { otlpMessages } from '#core/metrics/otlp-metrics.ts';
import { unpackPoints } from '#core/metrics/pack-points.ts';
import { aggregatesOf } from '#core/metrics/stored-points.ts';
import { listSeries, readChunks, readFreshChunks } from '#store/metrics/metrics.ts';
import { retryRead } from '#store/retry-read.ts';
import { workerDatabase } from '../worker-database.ts';

/** Points of a metric that are to be read. */
export interface MetricPointsTask {
  readonly kind: 'metricPoints';
  /** The number of the stored metric, and the name of its points. */
  readonly metric: number;
  readonly points: string;
  readonly measure: string;
  /** Place of the figure among those of the measure. */
  readonly figure: number;
  readonly window: MetricWindow;
  /** The names of the keys by which it is shown; none: all in one. */
  readonly by: readonly string[];
  /** Most groups that are told apart. */
  readonly most: number;
}

/** Reads the points of a metric in a window. */
export async function metricPoints(task: MetricPointsTask): Promise<WindowTable> {
  const measure = measures.get(task.measure);
  if (!measure) throw new Error(`${task.measure} is no measure.`);
  const builder = await readWindow(task, task.window, task.by);
  return builder.table(measure, task.figure, task.most);
}

/** Reads a window of a metric, told apart by the names of some keys. */
async function readWindow(
  { metric, points }: Pick<MetricPointsTask, 'metric' | 'points'>,
  window: MetricWindow,
  by: readonly string[],
): Promise<WindowBuilder> {
  const { db } = workerDatabase();
  const aggregates = aggregatesOf(points);
  const known = by.length > 0 ? await retryRead(() => listSeries(db, metric, window.from - hour)) : [];
  const labels = new Map<number, SeriesLabels>(known.map((series) => [series.number, series.labels]));
  const builder = new WindowBuilder(window, aggregates, (series) => labels.get(series) ?? {}, by);
  const only: { readonly series?: readonly number[] } = by.length > 0 ? {} : { series: [wholeSeries] };
  const bySeries = new Map<number, ReadChunk[]>();
  const add = (level: Level, rows: Awaited<ReturnType<typeof readChunks>>): void => {
    for (const { series, start, data } of rows) {
      const chunk = { level, start, series, points: unpackPoints(data, aggregates, placesOf(level)) };
      const list = bySeries.get(series);
      if (list) list.push(chunk);
      else bySeries.set(series, [chunk]);
    }
  };
  // Chunks of finer levels that begin before the window may reach into it.
  const fresh = finerLevels(window).map(async (finer) => {
    const stretch = { from: window.from - finer.chunk, to: window.to };
    const place = { metric, level: finer.level };
    return [finer, await retryRead(() => readFreshChunks(db, place, stretch, only.series))] as const;
  });
  const level = levelOf(window);
  add(level, await retryRead(() => readChunks(db, { metric, level: level.level }, chunkStarts(window), only)));
  for (const [finer, rows] of await Promise.all(fresh)) add(finer, rows);
  for (const [series, chunks] of bySeries) builder.addSeries(series, chunks);
  return builder;
}

/** A metric that is shown to others. */
export interface ExposedTask extends Pick<MetricPointsTask, 'metric' | 'points' | 'measure'> {
  readonly name: string;
  readonly help: string;
  readonly unit: string;
  readonly by: readonly string[];
}

/** Metrics that are shown to others, as they are now. */
export interface ExpositionTask {
  readonly kind: 'exposition';
  readonly metrics: readonly ExposedTask[];
  readonly now: number;
}

/** Metrics that are sent to a receiver of OTLP, as they are now. */
export interface OtlpMetricsTask extends Omit<ExpositionTask, 'kind'> {
  readonly kind: 'otlpMetrics';
}

/** Tells metrics as OpenMetrics text, of what came on this day (of UTC). */
export async function metricExposition(task: ExpositionTask): Promise<string> {
  const { from, exposed } = await exposedToday(task);
  return exposition(exposed, from);
}

/** Tells metrics as messages of OTLP, of what came on this day (of UTC). */
export async function metricMessages(task: OtlpMetricsTask): Promise<readonly string[]> {
  const { from, exposed } = await exposedToday(task);
  return otlpMessages(exposed, from, task.now);
}

async function exposedToday({ metrics, now }: Pick<ExpositionTask, 'metrics' | 'now'>): Promise<{
  readonly from: number;
  readonly exposed: readonly ExposedMetric[];
}> {
  const from = Math.floor(now / day) * day;
  const window: MetricWindow = { from, to: from + day, every: day };
  const exposed: ExposedMetric[] = [];
  for (const { name, help, unit, by, measure: measureName, ...of } of metrics) {
    const measure = measures.get(measureName);
    if (measure) exposed.push({ name, help, unit, measure, series: (await readWindow(of, window, by)).series() });
  }
  return { from, exposed };
}
