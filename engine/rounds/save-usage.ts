import type { Round } from './round.ts';

/** Saves which events were read. */
export const saveUsage: Round = {
  name: 'usage',
  pause: 30_000,
  begin:
    ({ usage }) =>
    () =>
      usage.save(Date.now()),
};
