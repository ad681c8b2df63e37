import { dayOf } from '#core/costs/month/calendar.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { noteMetricDay } from '#store/metrics/metric-days.ts';
import { countedSeries } from './metric-series.ts';

/** Notes how many series the metrics of the live plan have today, for what they cost. */
export async function noteSeriesOfToday(database: Database, plan: PlanDocument, now: number): Promise<void> {
  const counted = await countedSeries(database, plan, now);
  await noteMetricDay(database.db, dayOf(now), new Map([...counted].map(([id, { series }]) => [id, series])));
}
