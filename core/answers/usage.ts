import type { Reading } from '../usage/usage.ts';

/** How often a thing was read in one way. */
export interface ReadingCount {
  readonly reading: Reading;
  readonly times: number;
  /** When it was read last (milliseconds). */
  readonly lastAt: number;
}

/** `GET /api/usage` */
export interface UsageAnswer {
  /** The time since which usage has been recorded (milliseconds), at most 30 days ago; null before the first day. */
  readonly since: number | null;
  /** The most frequent first. */
  readonly readings: readonly ReadingCount[];
  /** The age of the oldest event that was used, in milliseconds; null if it was not read. */
  readonly oldestAge: number | null;
}

/** How often a thing was read in any way. */
export interface NamedUsage {
  readonly name: string;
  readonly times: number;
  /** The age of the oldest event that was used, in milliseconds. */
  readonly oldestAge: number;
}

/** `GET /api/usage/{kind}` */
export interface UsageByNameAnswer {
  /** As in {@link UsageAnswer}. */
  readonly since: number | null;
  /** The most read first. */
  readonly things: readonly NamedUsage[];
}
