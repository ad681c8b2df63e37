import { leaseNames } from '../../cluster/leases.ts';
import type { Round } from '../round.ts';

/** Closes minutes of health; the holder of the lease also notes who fell silent. */
export const closeMinutes: Round = {
  name: 'closing minutes',
  pause: 5_000,
  begin:
    ({ health, leases }) =>
    () =>
      health.closeMinutes(Date.now(), leases.get(leaseNames.health) !== undefined),
};
