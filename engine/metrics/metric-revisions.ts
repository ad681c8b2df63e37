import { LRUCache } from 'lru-cache';
import { diffPlans } from '#core/plan/diff.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { pointsName } from '#core/plan/parts/metrics/metric.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import type { Database } from '#store/database.ts';
import { listRevisions } from '#store/plan/plans.ts';
import { planOfRevision } from '../plan/stored-plans.ts';

/** Most revisions that are looked through. */
const mostRevisions = 100;

/** The metrics of revisions, which never change. */
const known = new LRUCache<number, readonly MetricDocument[]>({ max: 2 * mostRevisions });

/** A revision in which a metric came, changed or went. */
export interface MetricRevision {
  readonly revision: number;
  /** When it was published, in milliseconds. */
  readonly at: number;
  readonly text: string;
}

/** The revisions, of the last hundred, in which a metric was changed, the latest first. */
export async function metricRevisions(database: Database, id: string): Promise<readonly MetricRevision[]> {
  const revisions = await listRevisions(database, mostRevisions);
  const plans = await Promise.all(
    revisions.map(async ({ number }) => (await metricsOf(database, number)).filter((metric) => metric.id === id)),
  );
  return revisions.flatMap(({ number, publishedAt }, i) =>
    diffPlans(planWith(plans[i + 1] ?? []), planWith(plans[i] ?? [])).map(({ text }) => ({
      ...{ revision: number, at: publishedAt, text },
    })),
  );
}

/** The revision in which a metric began, and when that was published (milliseconds). */
export interface MetricBegin {
  readonly revision: number;
  readonly at: number;
}

/**
 * Where a metric that is live began to keep what it keeps; undefined where that is longer ago than revisions are looked
 * through, or where it was there before, was taken out and is there again.
 */
export async function metricBegin(database: Database, metric: MetricDocument): Promise<MetricBegin | undefined> {
  const revisions = await listRevisions(database, mostRevisions);
  const has = await Promise.all(
    revisions.map(async ({ number }) => (await metricsOf(database, number)).some((one) => isSameMetric(one, metric))),
  );
  const length = has.indexOf(false);
  if (length < 0 && revisions.length === mostRevisions) return undefined;
  const times = length < 0 ? has.length : length;
  const first = revisions[times - 1];
  return first && !has.slice(times).includes(true) ? { revision: first.number, at: first.publishedAt } : undefined;
}

/** In which revisions metrics began, as far as that was looked for. */
export interface MetricBegins {
  /** The last revision that was looked at. */
  readonly upTo: number;
  readonly revisions: readonly number[];
}

/** The revisions, of the last hundred up to one of them, in which any metric began. */
export async function metricBegins(database: Database, upTo: number): Promise<MetricBegins> {
  const listed = (await listRevisions(database, mostRevisions)).filter(({ number }) => number <= upTo);
  const plans = await Promise.all(listed.map(({ number }) => metricsOf(database, number)));
  const begins = plans.map((metrics, i) => {
    const before = plans[i + 1];
    // What is before the first of those that are looked at is not known.
    if (!before && listed[i]?.number !== 1) return false;
    return metrics.some((metric) => !before?.some((one) => isSameMetric(one, metric)));
  });
  return { upTo, revisions: listed.filter((_, i) => begins[i]).map(({ number }) => number) };
}

function isSameMetric(a: MetricDocument, b: MetricDocument): boolean {
  return a.id === b.id && pointsName(a) === pointsName(b);
}

function planWith(metrics: readonly MetricDocument[]): PlanDocument {
  return { plan: 1, pipelines: [], tiers: [], metrics };
}

async function metricsOf(database: Database, number: number): Promise<readonly MetricDocument[]> {
  const found = known.get(number);
  if (found) return found;
  const metrics = (await planOfRevision(database.db, number))?.metrics ?? [];
  known.set(number, metrics);
  return metrics;
}
