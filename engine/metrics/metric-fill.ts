import { hour, minute } from '#core/events/time-units.ts';
import { pointsName } from '#core/plan/parts/metrics/metric.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import { listSegments } from '#store/events/segments.ts';
import { firstStored, type MetricFill, saveMetricFill, unfinishedFills } from '#store/metrics/metric-fills.ts';
import { addMetric, addMetricDeltas, listMetrics } from '#store/metrics/metrics.ts';
import { findRevision } from '#store/plan/plans.ts';
import type { LivePlan } from '../plan/stored-plans.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';

/** What is filled in at once: an hour, or less where more than so many events are stored of it. */
const fewEvents = 2_000_000;
const shortStretch = 10 * minute;
/** How long a round takes at most, in milliseconds. */
const roundTime = 5_000;
/** How long after its publication a metric is filled in at the earliest, in milliseconds: engines go over to a plan one by one. */
const settleTime = 10_000;
/** By how much the times of events may be ahead of their arrival, in milliseconds. */
const ahead = 24 * hour;

interface Setting {
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: SourceDirectory;
}

/** Has a metric that began in a revision filled in from what was processed and stored before. */
export async function beginFill(tx: Queryable, metric: MetricDocument, revision: number, now: number): Promise<void> {
  const number = await addMetric(tx, metric.id, pointsName(metric));
  const next = Math.ceil((now + ahead) / hour) * hour;
  await saveMetricFill(tx, { metric: number, revision, next, isDone: false });
}

/**
 * Fills metrics in from stored events, from the latest backwards. What a stretch of time brings is written in the transaction
 * that notes how far it came, so each event counts once. Only the holder of the lease does it.
 */
export async function fillRound(setting: Setting, lease: Lease, { plan, revision }: LivePlan): Promise<void> {
  const { db } = setting.database;
  const unfinished = await unfinishedFills(db);
  if (unfinished.length === 0) return;
  const stored = await listMetrics(db);
  const until = Date.now() + roundTime;
  for (const fill of unfinished) {
    if (!(await isSettled(db, fill, revision))) continue;
    const known = stored.find(({ number }) => number === fill.metric);
    const metric = plan.metrics?.find((one) => one.id === known?.metric && pointsName(one) === known.points);
    // Of one that was taken out the rest is not wanted any more.
    if (!metric) await note(db, lease, { ...fill, isDone: true });
    else
      for (let reached: MetricFill | undefined = fill; reached && Date.now() < until; )
        reached = await fillOne(setting, lease, metric, reached);
  }
}

/** Whether the metric's first revision is in force here, and has been for long enough to be so everywhere. */
async function isSettled(db: Queryable, { revision: begin }: MetricFill, revision: number): Promise<boolean> {
  if (revision < begin) return false;
  const published = (await findRevision(db, begin))?.publishedAt ?? 0;
  return Date.now() - published >= settleTime;
}

/** Fills in one stretch. Returns how far it came; undefined where it is done, or has to be tried again. */
async function fillOne(
  { database, pools, directory }: Setting,
  lease: Lease,
  metric: MetricDocument,
  fill: MetricFill,
): Promise<MetricFill | undefined> {
  const first = await firstStored(database.db);
  if (first === undefined || fill.next <= first) {
    await note(database.db, lease, { ...fill, isDone: true });
    return undefined;
  }
  const whole = { from: fill.next - hour, to: fill.next };
  const segments = (await listSegments(database, whole, undefined)).filter(({ revision }) => revision < fill.revision);
  const isBusy = segments.reduce((sum, { events }) => sum + events, 0) > fewEvents;
  const from = isBusy ? fill.next - shortStretch : whole.from;
  const within = segments.filter((segment) => segment.to >= from);
  const pieces =
    within.length === 0
      ? []
      : await pools.background({
          kind: 'fillMetric',
          ...{ metric, from, to: fill.next, now: Date.now() },
          segments: within.map(({ id, tier, source, events }) => ({ id, tier, source, events })),
          ...{ tables: directory.tables, fleets: directory.fleets },
        });
  // Segments went while they were read: those that took their place are read in the next round.
  if (!pieces) return undefined;
  const filled = { ...fill, next: from };
  await database.db.transaction(async (tx) => {
    await guardLease(tx, lease);
    for (const piece of pieces) await addMetricDeltas(tx, piece);
    await saveMetricFill(tx, filled);
  });
  return filled;
}

async function note(db: Database['db'], lease: Lease, fill: MetricFill): Promise<void> {
  await db.transaction(async (tx) => {
    await guardLease(tx, lease);
    await saveMetricFill(tx, fill);
  });
}
