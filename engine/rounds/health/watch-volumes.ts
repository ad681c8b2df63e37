import { leaseNames } from '../../cluster/leases.ts';
import { VolumeWatch } from '../../health/volume-watch.ts';
import type { Round } from '../round.ts';

/** Looks whether sources send more or less than usual, by the hour. */
export const watchVolumes: Round = {
  name: 'volumes',
  pause: 120_000,
  lease: leaseNames.health,
  begin: ({ database }) => {
    const volumes = new VolumeWatch(database);
    return ({ token }) => volumes.look(Date.now(), token);
  },
};
