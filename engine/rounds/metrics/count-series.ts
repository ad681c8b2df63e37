import { leaseNames } from '../../cluster/leases.ts';
import { noteSeriesOfToday } from '../../metrics/metric-days.ts';
import type { Round } from '../round.ts';

/** Notes how many series metrics have today: they cost by the day. */
export const countSeries: Round = {
  name: 'counting series',
  pause: 60_000,
  lease: leaseNames.metrics,
  begin:
    ({ database, plan }) =>
    () =>
      noteSeriesOfToday(database, plan.current().plan, Date.now()),
};
