import { leaseNames } from '../cluster/leases.ts';
import type { Runner } from './runner.ts';

/** Saves what was learnt since the last time, if it is for this engine to save it. */
export const saveLearnt: Runner = {
  name: 'what was learnt of senders since the last save',
  start: ({ leases, learning }) => ({
    stop: () => leases.holding(leaseNames.health, (lease) => learning.save(lease)),
  }),
};
