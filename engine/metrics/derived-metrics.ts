import type { PlanDocument } from '#core/plan/document.ts';
import { keyName, pointsName } from '#core/plan/parts/metrics/metric.ts';
import type { Database } from '#store/database.ts';
import { listMetrics } from '#store/metrics/metrics.ts';
import { cachedFor } from '../base/cached-for.ts';
import type { Pools } from '../workers/pools.ts';
import type { ExposedTask } from '../workers/tasks/metric-points.ts';

/** For how long the same is given again (milliseconds): those who ask do so every few seconds. */
const freshFor = 5_000;

/** Tells the derived metrics of the live plan as OpenMetrics text, at most some seconds old. */
export function derivedMetrics(database: Database, pools: Pools, plan: () => PlanDocument): () => Promise<string> {
  const exposed = cachedFor(freshFor, async (now) => {
    // Not in the lanes that searches use: their threads are given back when nobody searches, and this is asked for all the time.
    return await pools.background({ kind: 'exposition', metrics: await exposedMetrics(database, plan()), now });
  });
  return () => exposed(Date.now());
}

/** The metrics of a plan that anything came for, as others get them. */
export async function exposedMetrics(
  database: Database,
  { metrics = [] }: PlanDocument,
): Promise<readonly ExposedTask[]> {
  const stored = await listMetrics(database.db);
  return metrics.flatMap((metric) => {
    const points = pointsName(metric);
    const known = stored.find((one) => one.metric === metric.id && one.points === points);
    if (!known) return [];
    const { name, help = '', unit = '', measure, by = [] } = metric;
    return [{ metric: known.number, points, measure, name, help, unit, by: by.map(keyName) }];
  });
}
