import { leaseNames } from '../../cluster/leases.ts';
import type { Round } from '../round.ts';

/** Saves what was learnt of senders, or has the holder of the lease save it. */
export const saveLearnt: Round = {
  name: 'saving what was learnt',
  pause: 30_000,
  begin:
    ({ leases, learning }) =>
    async () => {
      const lease = leases.get(leaseNames.health);
      if (lease) await learning.save(lease);
      else learning.letOthersSave();
    },
};
