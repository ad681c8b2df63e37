import type { Round } from './round.ts';

/** Starts, watches and removes the demo data that someone loaded. */
export const runDemo: Round = {
  name: 'demo data',
  pause: 1_000,
  begin:
    ({ demo }) =>
    () =>
      demo.turn(),
};
