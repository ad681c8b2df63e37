import type { Log } from './log.ts';

/** Something that is done again and again. */
export interface Repeated {
  /** Ends it; resolves when what is being done is done. */
  readonly stop: () => Promise<void>;
}

/** Does something again and again, `pause` milliseconds after it was done; failures are logged and do not end it. */
export function repeat(pause: number, log: Log, work: () => Promise<void>): Repeated {
  let timer: NodeJS.Timeout;
  let stopped = false;
  let working: Promise<void> = Promise.resolve();
  const turn = async (): Promise<void> => {
    try {
      await work();
    } catch (error) {
      log.warn(`A regular task failed; it is tried again: ${error instanceof Error ? error.message : String(error)}`);
    }
    if (!stopped) next();
  };
  const next = (): void => {
    timer = setTimeout(() => {
      working = turn();
    }, pause);
  };
  next();
  return {
    stop: async () => {
      stopped = true;
      clearTimeout(timer);
      await working;
    },
  };
}
