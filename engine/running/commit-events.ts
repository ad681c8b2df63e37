import type { Runner } from './runner.ts';

/** How long what waits may take to be committed when the engine stops, in milliseconds. */
const commitPatience = 12_000;

/** Has what waits committed before the engine ends, and says how much could not be. */
export const commitEvents: Runner = {
  name: 'commits',
  start: ({ commits, log }) => ({
    patience: commitPatience + 3_000,
    stop: async () => {
      const { length } = await commits.stop(commitPatience);
      if (length > 0)
        log.error(
          `${length} deliveries could not be committed before the engine stopped, as the store did not answer.`,
        );
    },
  }),
};
