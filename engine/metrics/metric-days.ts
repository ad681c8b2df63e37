import { dayOf } from '#core/costs/calendar.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { noteMetricDay, removeMetricDays } from '#store/metric-days.ts';
import { countedSeries } from './metric-series.ts';

/** For how many days it is known how many series there were: as long as volume is, and a window of costs may reach. */
const daysKept = 460;

/** Notes how many series the metrics of the live plan have today, for what they cost. */
export async function noteSeriesOfToday(database: Database, plan: PlanDocument, now: number): Promise<void> {
  const counted = await countedSeries(database, plan, now);
  await noteMetricDay(database.db, dayOf(now), new Map([...counted].map(([id, { series }]) => [id, series])));
  await removeMetricDays(database.db, dayOf(now) - daysKept);
}
