import type { Log } from '../base/log.ts';
import type { Service } from '../base/service.ts';
import type { CommitLoop } from './groups.ts';

/** How long what waits may take to be committed when the engine stops, in milliseconds. */
const commitPatience = 12_000;

/** Has what waits committed before the engine ends, and says how much could not be. */
export function commitService(commits: CommitLoop, log: Log): Service {
  return {
    name: 'commits',
    patience: commitPatience + 3_000,
    stop: async () => {
      const { length } = await commits.stop(commitPatience);
      if (length > 0)
        log.error(
          `${length} deliveries could not be committed before the engine stopped, as the store did not answer.`,
        );
    },
  };
}
