import { wholeSeries } from '#core/metrics/chunks.ts';
import type { SeriesLabels } from '#core/metrics/labels.ts';
import { placesOf } from '#core/metrics/levels.ts';
import { measures } from '#core/metrics/measures/index.ts';
import {
  chunkStarts,
  finerLevels,
  metricWindow,
  type ReadChunk,
  WindowBuilder,
  type WindowTable,
} from '#core/metrics/metric-window.ts';
import { unpackPoints } from '#core/metrics/pack-points.ts';
import { aggregatesOf } from '#core/metrics/stored-points.ts';
import { again } from '#store/again.ts';
import { listSeries, readChunks, readFreshChunks } from '#store/metrics.ts';
import { workerDatabase } from './worker-database.ts';

/** Points of a metric that are to be read. */
export interface MetricPointsTask {
  readonly kind: 'metricPoints';
  /** The number of the stored metric, and the name of its points. */
  readonly metric: number;
  readonly points: string;
  readonly measure: string;
  /** Place of the figure among those of the measure. */
  readonly figure: number;
  readonly from: number;
  readonly to: number;
  /** The names of the keys by which it is shown; none: all in one. */
  readonly by: readonly string[];
  /** Most groups that are told apart. */
  readonly most: number;
  /** Most steps of the window. */
  readonly steps?: number | undefined;
  readonly now: number;
}

/** Reads the points of a metric in a window. */
export async function metricPoints(task: MetricPointsTask): Promise<WindowTable> {
  const { metric, by, most, now } = task;
  const { db } = workerDatabase();
  const aggregates = aggregatesOf(task.points);
  const measure = measures.get(task.measure);
  if (!measure) throw new Error(`${task.measure} is no measure.`);
  const window = metricWindow(task.from, task.to, now, task.steps);
  const known = by.length > 0 ? await again(() => listSeries(db, metric, window.from)) : [];
  const labels = new Map<number, SeriesLabels>(known.map((series) => [series.number, series.labels]));
  const builder = new WindowBuilder(window, aggregates, (series) => labels.get(series) ?? {}, by);
  const only: { readonly series?: readonly number[] } = by.length > 0 ? {} : { series: [wholeSeries] };
  const bySeries = new Map<number, ReadChunk[]>();
  const add = (level: (typeof window)['level'], rows: Awaited<ReturnType<typeof readChunks>>): void => {
    for (const { series, start, data } of rows) {
      if (by.length === 0 && series !== wholeSeries) continue;
      const chunk = { level, start, series, points: unpackPoints(data, aggregates, placesOf(level)) };
      const list = bySeries.get(series);
      if (list) list.push(chunk);
      else bySeries.set(series, [chunk]);
    }
  };
  const place = { metric, level: window.level.level };
  // Chunks of finer levels that begin before the window may reach into it.
  const fresh = finerLevels(window).map(
    async (level) =>
      [
        level,
        await again(() =>
          readFreshChunks(
            db,
            { metric, level: level.level },
            { from: window.from - level.chunk, to: window.to },
            only.series,
          ),
        ),
      ] as const,
  );
  add(window.level, await again(() => readChunks(db, place, chunkStarts(window), only)));
  for (const [level, rows] of await Promise.all(fresh)) add(level, rows);
  for (const [series, chunks] of bySeries) builder.addSeries(series, chunks);
  return builder.table(measure, task.figure, most);
}
