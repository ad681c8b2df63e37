import { leaseNames } from '../../cluster/leases.ts';
import { MetricFolding } from '../../metrics/metric-folding.ts';
import type { Round } from '../round.ts';
import { foldingPause } from './folding-pause.ts';

/** Puts what groups brought for metrics into chunks. */
export const foldMetrics: Round = {
  name: 'metrics',
  pause: foldingPause,
  lease: leaseNames.metrics,
  begin: ({ database }) => {
    const folding = new MetricFolding(database);
    return async (lease) => (await folding.round(lease, Date.now())) > 0;
  },
};
