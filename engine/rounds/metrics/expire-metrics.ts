import { leaseNames } from '../../cluster/leases.ts';
import { expireMetrics as expire } from '../../metrics/metric-roll-ups.ts';
import type { Round } from '../round.ts';

/** Deletes points of metrics that are past their time. */
export const expireMetrics: Round = {
  name: 'expiry of metrics',
  pause: 600_000,
  lease: leaseNames.metrics,
  deletes: true,
  begin:
    ({ database, plan }) =>
    () =>
      expire(database, plan.current().plan, Date.now()),
};
