import { leaseNames } from '../../cluster/leases.ts';
import { fillRound } from '../../metrics/metric-fill.ts';
import type { Round } from '../round.ts';
import { isNews } from '../round-services.ts';

/** Fills metrics in from events that were stored before they began. */
export const fillMetrics: Round = {
  name: 'filling metrics in',
  pause: 2_000,
  lease: leaseNames.metrics,
  begin: (services) => async (lease) => {
    if (isNews(services, 'hasFills')) await fillRound(services, lease, services.plan.current());
  },
};
