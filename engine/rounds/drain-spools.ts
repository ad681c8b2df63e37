import { leaseNames } from '../cluster/leases.ts';
import { drain } from '../outgoing/drain.ts';
import { followers } from '../outgoing/index.ts';
import type { Round } from './round.ts';

/** Sends what waits in the spool of each follower. */
export const drainSpools: readonly Round[] = followers.map((follower) => ({
  name: `the spool of ${follower.name}`,
  pause: 1_000,
  lease: leaseNames.spool(follower.name),
  begin:
    ({ database }) =>
    async (lease) =>
      void (await drain(database, lease, follower)),
}));
