import pRetry from 'p-retry';
import { isAway } from './fault.ts';

/** How often a question is asked again, and the pause before, in milliseconds. */
const retries = 3;
const pause = 150;

/**
 * Asks again when the store could not be reached: after it was restarted, connections that lay idle are dead and fail
 * once. For questions only; a change might be made twice.
 */
export function retryRead<T>(ask: () => Promise<T>): Promise<T> {
  return pRetry(ask, {
    retries,
    factor: 1,
    minTimeout: pause,
    shouldRetry: ({ error }) => isAway(error),
  });
}
