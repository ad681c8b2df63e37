import { leaseNames } from '../../cluster/leases.ts';
import { SurgeWatch } from '../../health/surge-watch.ts';
import type { Round } from '../round.ts';

/** Looks whether sources suddenly send much more, by the minute. */
export const watchSurges: Round = {
  name: 'surges',
  pause: 30_000,
  lease: leaseNames.health,
  begin: ({ database }) => {
    const surges = new SurgeWatch(database);
    return () => surges.look(Date.now());
  },
};
