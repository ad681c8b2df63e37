import type { Round } from './round.ts';

/** Looks whether the disk of the store has room for more. */
export const watchDisk: Round = {
  name: 'disk',
  pause: 1_000,
  begin:
    ({ disk }) =>
    () =>
      disk.look(),
};
