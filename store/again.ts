import { isAway } from './fault.ts';

/** How often a question is asked again, and the pause before, in milliseconds. */
const attempts = 4;
const pause = 150;

/**
 * Asks again when the store could not be reached: after it was restarted, connections that lay idle are dead and fail
 * once. For questions only; a change might be made twice.
 */
export async function again<T>(ask: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await ask();
    } catch (error) {
      if (attempt === attempts || !isAway(error)) throw error;
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
  }
}
