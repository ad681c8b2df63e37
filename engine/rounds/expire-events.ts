import { withSwitched } from '#core/plan/postures.ts';
import { leaseNames } from '../cluster/leases.ts';
import { expireRound } from '../retention/expire.ts';
import type { Round } from './round.ts';

/** Deletes what tiers have kept for long enough. */
export const expireEvents: Round = {
  name: 'retention',
  pause: 30_000,
  lease: leaseNames.retention,
  deletes: true,
  begin:
    ({ database, plan, switches }) =>
    async () => {
      const now = Date.now();
      await expireRound(database, withSwitched(plan.current().plan, switches.at(now)), now);
    },
};
