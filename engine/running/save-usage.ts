import type { Runner } from './runner.ts';

/** Saves what was read in the last moments. */
export const saveUsage: Runner = {
  name: 'usage',
  start: ({ usage }) => ({ stop: () => usage.save(Date.now()) }),
};
