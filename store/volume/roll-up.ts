import { day, hour } from '#core/events/time-units.ts';
import { hourSpan, minuteSpan } from '#core/routing/ledger.ts';

/** What is put together to what (0 minutes, 1 hours, 2 days), and how old it must be for that (milliseconds). */
const rollUps = [
  { from: 0, to: 1, step: hour, age: minuteSpan },
  { from: 1, to: 2, step: day, age: hourSpan },
] as const;

/** Stretches that are put together in one round; the rest waits for the next. */
const stretchesPerRound = 200;

/** A stretch of time whose rows of one span become rows of the next. Milliseconds. */
export interface RollUpStretch {
  readonly start: number;
  readonly step: number;
  readonly from: number;
  readonly to: number;
}

/**
 * Has rows of minutes put together by the hour, and those by the hour by the day, once they are old enough.
 * `oldest` gives the start of the oldest row of a span from before a time; `together` puts one stretch together, in a
 * transaction of its own.
 */
export async function rollUp(
  now: number,
  oldest: (span: number, before: number) => Promise<number | undefined>,
  together: (stretch: RollUpStretch) => Promise<void>,
): Promise<void> {
  for (const { from, to, step, age } of rollUps) {
    const before = Math.floor((now - age) / step) * step;
    for (let i = 0; i < stretchesPerRound; i++) {
      const start = await oldest(from, before);
      if (start === undefined) break;
      await together({ start: Math.floor(start / step) * step, step, from, to });
    }
  }
}
