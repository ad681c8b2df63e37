import { day } from '../events/time-units.ts';

/** Habits repeat by the week, so usage has to be known for this many days. */
const leastKnown = 7;
/** Days that are kept beyond the oldest event that was read. */
const margin = 1;

/** What is known of the usage of a tier. */
export interface TierUsage {
  /** Since when usage has been recorded (milliseconds); null before the first day. */
  readonly since: number | null;
  /** The age of the oldest event that was used, in milliseconds; null if it was not read. */
  readonly oldestAge: number | null;
}

/** Whether usage that has been recorded since a time (milliseconds; null: not yet) says what is not used: habits repeat by the week. */
export function isKnownForLong(since: number | null, now: number): boolean {
  return since !== null && now - since >= leastKnown * day;
}

/**
 * A retention in full days that would have kept everything that was read from a tier; undefined if usage is not known for a week,
 * nothing was read, or it would not be at most half of `keep` (milliseconds).
 */
export function shorterKeep({ since, oldestAge }: TierUsage, keep: number, now: number): number | undefined {
  if (oldestAge === null || !isKnownForLong(since, now)) return undefined;
  const days = Math.ceil(oldestAge / day) + margin;
  return days * day <= keep / 2 ? days : undefined;
}
