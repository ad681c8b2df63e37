import { followFiles } from '../intake/files/follow.ts';
import { readingLeases } from './reading-leases.ts';
import type { Runner } from './runner.ts';

/** Follows the files that sources name. */
export const readFiles: Runner = {
  name: 'followed files',
  leases: (services) => readingLeases(services, 'files'),
  start: (services) => ({ quiet: followFiles(services).stop }),
};
