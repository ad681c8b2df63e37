import type { Logger } from 'pino';

/** Does something again and again, `pause` milliseconds after it was done; failures are logged and do not end it. */
export function repeat(pause: number, log: Logger, work: () => Promise<void>): { readonly stop: () => void } {
  let timer: NodeJS.Timeout;
  let stopped = false;
  const next = (): void => {
    timer = setTimeout(async () => {
      try {
        await work();
      } catch (error) {
        log.warn({ err: error }, 'A regular task failed; it is tried again.');
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
