import { leaseNames } from '../../cluster/leases.ts';
import type { Round } from '../round.ts';

/** Keeps coarser levels of rankings up with the finer ones. */
export const rollUpTalkers: Round = {
  name: 'rolling up talkers',
  pause: 20_000,
  lease: leaseNames.talkers,
  deletes: true,
  begin:
    ({ pools }) =>
    (lease) =>
      pools.background({ kind: 'talkerRound', lease, now: Date.now(), work: 'roll up' }),
};
