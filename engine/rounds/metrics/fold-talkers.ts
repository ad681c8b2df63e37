import { leaseNames } from '../../cluster/leases.ts';
import type { Round } from '../round.ts';
import { foldingPause } from './folding-pause.ts';

/** Puts what groups brought for rankings where it belongs. */
export const foldTalkers: Round = {
  name: 'talkers',
  pause: foldingPause,
  lease: leaseNames.talkers,
  begin:
    ({ pools }) =>
    (lease) =>
      pools.background({ kind: 'talkerRound', lease, now: Date.now(), work: 'fold' }),
};
