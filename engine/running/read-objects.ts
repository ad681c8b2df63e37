import { pickUpObjects } from '../intake/objects/pick-up.ts';
import { readingLeases } from './reading-leases.ts';
import type { Runner } from './runner.ts';

/** Picks up the objects that sources name. */
export const readObjects: Runner = {
  name: 'picked-up objects',
  leases: (services) => readingLeases(services, 'objects'),
  start: (services) => ({ quiet: pickUpObjects(services).stop }),
};
