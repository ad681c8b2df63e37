import { leftMore } from '../../base/repeat.ts';
import { leaseNames } from '../../cluster/leases.ts';
import { rollUpMetrics as rollUp } from '../../metrics/metric-roll-ups.ts';
import type { Round } from '../round.ts';

/** Keeps coarser levels of metrics up with the finer ones; history that was brought in as soon as a part of a thread allows. */
export const rollUpMetrics: Round = {
  name: 'rolling up metrics',
  pause: { least: 20_000, most: 20_000, times: 1, more: 1_000 },
  lease: leaseNames.metrics,
  deletes: true,
  begin:
    ({ database }) =>
    async (lease) =>
      (await rollUp(database, lease, Date.now())) && leftMore,
};
