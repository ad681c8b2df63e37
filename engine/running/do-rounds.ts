import { roundLeases } from '../rounds/index.ts';
import { startRounds } from '../rounds/start-rounds.ts';
import type { Runner } from './runner.ts';

/** Does what is to be done again and again. */
export const doRounds: Runner = {
  name: 'rounds',
  leases: () => roundLeases,
  start: startRounds,
};
