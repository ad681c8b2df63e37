import { leaseNames } from '../../cluster/leases.ts';
import { expireTalkers as expire } from '../../talkers/talker-roll-ups.ts';
import type { Round } from '../round.ts';

/** Deletes rankings that are past their time. */
export const expireTalkers: Round = {
  name: 'expiry of talkers',
  pause: 600_000,
  lease: leaseNames.talkers,
  deletes: true,
  begin:
    ({ database }) =>
    () =>
      expire(database, Date.now()),
};
