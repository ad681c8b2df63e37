import type { Runner } from './runner.ts';

/** Intake comes first: reading threads load megabytes of code, which would slow down the first deliveries (milliseconds). */
const startsAfter = 3_000;

/** Prepares the reading threads for the first search. */
export const warmUp: Runner = {
  name: 'the warm-up',
  start: ({ config, pools }) => {
    const timer = config.warmsUp ? setTimeout(() => void pools.warm(), startsAfter) : undefined;
    return { stop: async () => clearTimeout(timer) };
  },
};
