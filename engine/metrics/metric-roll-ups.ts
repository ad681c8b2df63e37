import { dayOf } from '#core/costs/month/calendar.ts';
import { rolledUp, setPoint } from '#core/metrics/chunks.ts';
import { chunkStart, hours, keptFrom, type Level, minutes, placesOf, tenMinutes } from '#core/metrics/levels.ts';
import { packPoints, unpackPoints } from '#core/metrics/pack-points.ts';
import { newPoints } from '#core/metrics/points.ts';
import { aggregatesOf } from '#core/metrics/stored-points.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { metricKeep } from '#core/plan/parts/metrics/metric.ts';
import type { Aggregate } from '#core/summaries/summary.ts';
import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import { removeMetricDays } from '#store/metrics/metric-days.ts';
import {
  freshPlaces,
  listMetrics,
  type MetricChunk,
  readChunks,
  removeChunks,
  removeSeries,
  settleChunks,
  writeChunks,
} from '#store/metrics/metrics.ts';

/** Levels and the coarser ones that are made of them. What comes late of a time without minutes goes to ten minutes. */
const rollUps: readonly { readonly from: Level; readonly to: readonly Level[] }[] = [
  { from: minutes, to: [tenMinutes, hours] },
  { from: tenMinutes, to: [hours] },
];

/** How long after its end a chunk goes to the coarser levels, in milliseconds: most of what comes late has come by then. */
const patience = 120_000;
/** Most chunks (of all series of a metric) in one round. */
const mostChunks = 100;

/**
 * Keeps the coarser levels up with the finer ones: every chunk that is over and has changed gives the coarser levels its
 * points anew, so that they are what they are made of however often and late that changes. Whether there may be more to do.
 */
export async function rollUpMetrics(database: Database, lease: Lease, now: number): Promise<boolean> {
  const known = new Map((await listMetrics(database.db)).map(({ number, points }) => [number, aggregatesOf(points)]));
  let isFull = false;
  for (const { from, to } of rollUps) {
    const due = await freshPlaces(database.db, from.level, now - from.chunk - patience, mostChunks);
    isFull ||= due.length === mostChunks;
    for (const { metric, start } of due) {
      const aggregates = known.get(metric);
      if (!aggregates) continue;
      await database.db.transaction(async (tx) => {
        await guardLease(tx, lease);
        await rollUpChunk(tx, { metric, from, start, to, aggregates });
      });
    }
  }
  return isFull;
}

interface RollUp {
  readonly metric: number;
  readonly from: Level;
  readonly start: number;
  readonly to: readonly Level[];
  readonly aggregates: readonly Aggregate[];
}

async function rollUpChunk(tx: Queryable, { metric, from, start, to, aggregates }: RollUp): Promise<void> {
  const chunks = (await readChunks(tx, { metric, level: from.level }, [start], { locked: true })).filter(
    ({ fresh }) => fresh,
  );
  const series = chunks.map((chunk) => chunk.series);
  for (const level of to) {
    const into = chunkStart(level, start);
    const stored = await readChunks(tx, { metric, level: level.level }, [into], { series, locked: true });
    const dataOf = new Map(stored.map((chunk) => [chunk.series, chunk]));
    const first = (start - into) / level.step;
    await writeChunks(
      tx,
      chunks.map((chunk): MetricChunk => {
        const before = dataOf.get(chunk.series);
        const places = placesOf(level);
        const points = before ? unpackPoints(before.data, aggregates, places) : newPoints(aggregates, places);
        const rolled = rolledUp(unpackPoints(chunk.data, aggregates, placesOf(from)), from, level, aggregates);
        for (let place = 0; place < from.chunk / level.step; place++) setPoint(points, first + place, rolled, place);
        return {
          ...{ metric, level: level.level, start: into, series: chunk.series },
          fresh: before?.fresh ?? false,
          data: packPoints(points, places),
        };
      }),
    );
  }
  await settleChunks(tx, { metric, level: from.level }, start, series);
}

/** For how many days it is known how many series there were: a window of costs reaches no further. */
const daysKept = 460;

/** Lets go what is kept no longer: of metrics that the plan does not have, all but what is kept of any. */
export async function expireMetrics(database: Database, plan: PlanDocument, now: number): Promise<void> {
  for (const level of [minutes, tenMinutes]) await removeChunks(database.db, level.level, keptFrom(level, now));
  for (const { number, metric } of await listMetrics(database.db)) {
    const keep = metricKeep(plan.metrics?.find(({ id }) => id === metric) ?? {});
    await removeChunks(database.db, hours.level, now - keep - hours.chunk, number);
    await removeSeries(database.db, number, now - keep - 2 * hours.chunk);
  }
  await removeMetricDays(database.db, dayOf(now) - daysKept);
}
