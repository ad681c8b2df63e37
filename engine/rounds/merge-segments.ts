import { leaseNames } from '../cluster/leases.ts';
import { Compaction } from '../compaction/compact.ts';
import { type MetricBegins, metricBegins } from '../metrics/metric-revisions.ts';
import type { Round } from './round.ts';

/** Merges small segments. */
export const mergeSegments: Round = {
  name: 'merging',
  pause: 3_000,
  lease: leaseNames.merging,
  begin: ({ database, pools, measures, log, disk, plan }) => {
    const compaction = new Compaction(database, pools, measures, log);
    let begins: MetricBegins = { upTo: 0, revisions: [] };
    return async () => {
      // It needs more room before it needs less.
      if (disk.isFull || !compaction.isDue(Date.now())) return;
      const { revision } = plan.current();
      if (begins.upTo !== revision) begins = await metricBegins(database, revision);
      await compaction.round(begins, Date.now());
    };
  },
};
