import type { Log } from './log.ts';

/** Something that is done again and again. */
export interface Repeated {
  /** Ends it; resolves when what is being done is done. */
  readonly stop: () => Promise<void>;
}

/**
 * How long to wait (milliseconds) after something was done until it is done again: always as long, or `times` as long as it
 * took, within bounds, so that work which grows takes no more than its part of the time.
 */
export type Pause = number | { readonly least: number; readonly most: number; readonly times: number };

/** Does something again and again; failures are logged and do not end it. */
export function repeat(pause: Pause, log: Log, work: () => Promise<void>): Repeated {
  let timer: NodeJS.Timeout;
  let stopped = false;
  let working: Promise<void> = Promise.resolve();
  const turn = async (): Promise<void> => {
    const begun = performance.now();
    try {
      await work();
    } catch (error) {
      log.warn(`A regular task failed; it is tried again: ${error instanceof Error ? error.message : String(error)}`);
    }
    if (!stopped) next(pauseAfter(pause, performance.now() - begun));
  };
  const next = (wait: number): void => {
    timer = setTimeout(() => {
      working = turn();
    }, wait);
  };
  next(pauseAfter(pause, 0));
  return {
    stop: async () => {
      stopped = true;
      clearTimeout(timer);
      await working;
    },
  };
}

/** How long to wait after work that took so long (milliseconds). */
export function pauseAfter(pause: Pause, took: number): number {
  return typeof pause === 'number' ? pause : Math.min(pause.most, Math.max(pause.least, took * pause.times));
}
