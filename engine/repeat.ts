import type { Log } from './log.ts';

/** Does something again and again, `pause` milliseconds after it was done; failures are logged and do not end it. */
export function repeat(pause: number, log: Log, work: () => Promise<void>): { readonly stop: () => void } {
  let timer: NodeJS.Timeout;
  let stopped = false;
  const next = (): void => {
    timer = setTimeout(async () => {
      try {
        await work();
      } catch (error) {
        log.warn(`A regular task failed; it is tried again: ${error instanceof Error ? error.message : String(error)}`);
      }
      if (!stopped) next();
    }, pause);
  };
  next();
  return {
    stop: () => {
      stopped = true;
      clearTimeout(timer);
    },
  };
}
