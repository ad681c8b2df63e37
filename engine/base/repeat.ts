import type { Log } from './log.ts';

/** Something that is done again and again. */
export interface Repeated {
  /** Ends it; resolves when what is being done is done. */
  readonly stop: () => Promise<void>;
}

/** How long to wait until something is done again, in milliseconds: always as long, or as the last turn was. */
export type Pause = number | TurnPause;

/** Work that grows takes no more than its part of the time, and what comes by and by is done together. */
export interface TurnPause {
  readonly least: number;
  readonly most: number;
  /** So many times as long as the turn took, between `least` and `most`. */
  readonly times: number;
  /** But at least so long after a turn that found something to do. */
  readonly busy?: number;
  /** After a turn that left something to do: so long, or four times as long as the turn took where that is more. */
  readonly more?: number;
}

/** What work resolves to that left something to do. */
export const leftMore = 'more';

/** Of the time of a thread a backlog takes a fifth at most. */
const backlogPause = 4;

/** Turns begin on multiples of so many milliseconds, those of all tasks together: a process that rests is woken less often. */
const beat = 500;

/** After failures in a row pauses grow to so many times their length, up to the longest (milliseconds). */
const mostTimes = 4;
const longestPause = 60_000;

/** A turn: how long it took (milliseconds), whether there was something to do, and whether there is more. */
export interface Turn {
  readonly took: number;
  readonly wasBusy: boolean;
  readonly hasMore?: boolean;
}

/** What repeated work is called in the log, and who gets its failures. */
export interface RepeatOptions {
  readonly name?: string;
  readonly onFailure?: () => void;
}

/**
 * Does something again and again; failures are logged and do not end it, but pauses grow while it fails. Work that resolves to
 * true had something to do, to {@link leftMore} has more.
 */
export function repeat(
  pause: Pause,
  log: Log,
  work: () => Promise<unknown>,
  { name = 'A regular task', onFailure }: RepeatOptions = {},
): Repeated {
  let timer: NodeJS.Timeout;
  let stopped = false;
  let failures = 0;
  let working: Promise<void> = Promise.resolve();
  const turn = async (): Promise<void> => {
    const begun = performance.now();
    let wasBusy = false;
    let hasMore = false;
    try {
      const found = await work();
      hasMore = found === leftMore;
      wasBusy = hasMore || found === true;
      failures = 0;
    } catch (error) {
      failures++;
      onFailure?.();
      log.warn(`${name} failed; it is tried again: ${error instanceof Error ? error.message : String(error)}`);
    }
    if (stopped) return;
    const wait = pauseAfter(pause, { took: performance.now() - begun, wasBusy, hasMore });
    next(failures === 0 ? wait : pauseAfterFailures(wait, failures));
  };
  const next = (wait: number): void => {
    timer = setTimeout(
      () => {
        working = turn();
      },
      onBeat(performance.now(), wait),
    );
  };
  next(pauseAfter(pause, { took: 0, wasBusy: false }));
  return {
    stop: async () => {
      stopped = true;
      clearTimeout(timer);
      await working;
    },
  };
}

/** How long to wait from `now` on (milliseconds) for about as long as `wait`, until a beat; what is not to wait that long does not. */
export function onBeat(now: number, wait: number): number {
  if (wait < beat) return wait;
  return Math.ceil(Math.round((now + wait) / beat) * beat - now);
}

/** How long to wait after a turn (milliseconds). */
export function pauseAfter(pause: Pause, { took, wasBusy, hasMore = false }: Turn): number {
  if (typeof pause === 'number') return pause;
  if (hasMore && pause.more !== undefined) return Math.max(pause.more, took * backlogPause);
  const least = Math.max(pause.least, wasBusy ? (pause.busy ?? 0) : 0);
  return Math.max(least, Math.min(pause.most, took * pause.times));
}

/** How long to wait after so many failures in a row (milliseconds): what is away may soon be back, so not for long. */
export function pauseAfterFailures(pause: number, failures: number): number {
  return Math.max(pause, Math.min(longestPause, pause * Math.min(mostTimes, failures)));
}
