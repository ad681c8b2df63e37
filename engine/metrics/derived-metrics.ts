import { keyName, pointsName } from '#core/metrics/metric.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { listMetrics } from '#store/metrics.ts';
import { recent } from '../recent.ts';
import type { Pools } from '../workers/pools.ts';

/** For how long what was told is told again (milliseconds): those who ask do so every few seconds. */
const freshFor = 5_000;

/** Tells the derived metrics of the live plan as OpenMetrics text, at most some seconds old. */
export function derivedMetrics(database: Database, pools: Pools, plan: () => PlanDocument): () => Promise<string> {
  const told = recent(freshFor, async (now) => {
    const stored = await listMetrics(database.db);
    const metrics = (plan().metrics ?? []).flatMap((metric) => {
      const points = pointsName(metric);
      const known = stored.find((one) => one.metric === metric.id && one.points === points);
      if (!known) return [];
      const { name, help = '', unit = '', measure, by = [] } = metric;
      return [{ metric: known.number, points, measure, name, help, unit, by: by.map(keyName) }];
    });
    return await pools.read(0, { kind: 'exposition', metrics, now });
  });
  return () => told(Date.now());
}
