import type { Round } from './round.ts';

/** Gives back the memory of threads that have had nothing to do for a while. */
export const freeMemory: Round = {
  name: 'memory',
  pause: ({ config }) => Math.min(60_000, config.searchRest),
  begin:
    ({ pools, config }) =>
    async () =>
      pools.giveBack(config.searchRest),
};
