import { day, hour, minute } from '../events/time-units.ts';
import { formatBytes } from '../events/units.ts';
import type { Drift } from './drift.ts';
import { type SentBytes, usualBand } from './volume-band.ts';

/** A surge is this many times the usual rate; a jump of five times is one in any minute of it, for all its scatter. */
const surgeFactor = 4;
/** Rates below this many bytes a minute (29 MB a day) are none, whatever is usual. */
const leastRate = 20_000;
/** It must go beyond the largest minute of the day before by so much: who sends a batch each hour does what it does. */
const beyondLargest = 1.5;
/** Part of the present minute that must have passed before it counts. */
const leastOfMinute = 1 / 3;
/** Hours that must be known of a source too young for {@link usualBand}. */
const fewHours = 2;
/** For so long a source that surged at an hour of the day is not reported at that hour again (milliseconds). */
const habitFor = 28 * day;

/** What is usual for a source: bytes a minute, and when that is so, in words. */
export interface UsualRate {
  readonly bytes: number;
  readonly when: string;
}

/** A source that sends many times what is usual, from the minute `since` on (milliseconds); rates in bytes a minute. */
export interface Surge {
  readonly since: number;
  readonly rate: number;
  readonly usual: UsualRate;
}

/**
 * What a source usually sends in a minute at a time (milliseconds), by its sums by the hour: the median of that hour of the
 * days before, of a younger source the largest of its full hours. Undefined while fewer than two are known.
 */
export function usualRate(hours: readonly SentBytes[], at: number): UsualRate | undefined {
  const band = usualBand(hours, at);
  if (band) return { bytes: band.middle / 60, when: `at this hour of ${band.days}` };
  const here = Math.floor(at / hour) * hour;
  const sums = new Map<number, number>();
  for (const { start, bytes } of hours) {
    const of = Math.floor(start / hour) * hour;
    if (of < here) sums.set(of, (sums.get(of) ?? 0) + bytes);
  }
  // The hour in which it was first heard is no full one.
  sums.delete(Math.min(...sums.keys()));
  if (sums.size < fewHours) return undefined;
  return { bytes: Math.max(...sums.values()) / 60, when: 'in its largest hour so far' };
}

/**
 * The surge that a source is in at `now` (milliseconds), by its sums by the minute of at least the last minutes, up to the
 * present one. It has lasted for one full minute and a good part of the next; undefined where there is none.
 */
export function surgeAt(usual: UsualRate, minutes: readonly SentBytes[], now: number): Surge | undefined {
  const edge = Math.max(surgeFactor * usual.bytes, leastRate);
  const present = Math.floor(now / minute) * minute;
  const rates = new Map<number, number>();
  for (const { start, bytes } of minutes) rates.set(start, (rates.get(start) ?? 0) + bytes);
  const isBeyond = (start: number): boolean => (rates.get(start) ?? 0) >= edge;
  const passed = (now - present) / minute;
  const isOn =
    passed < leastOfMinute
      ? isBeyond(present - minute) && isBeyond(present - 2 * minute)
      : isBeyond(present - minute) && (rates.get(present) ?? 0) >= edge * passed;
  if (!isOn) return undefined;
  let since = present - minute;
  while (isBeyond(since - minute)) since -= minute;
  let sent = 0;
  for (let start = since; start < present; start += minute) sent += rates.get(start) ?? 0;
  return { since, rate: (sent * minute) / (present - since), usual };
}

/** Whether a surge is beyond what the source sent in any minute of the day before, by its sums by the minute. */
export function isUnheardOf({ since, rate }: Surge, dayBefore: readonly SentBytes[]): boolean {
  const sums = new Map<number, number>();
  for (const { start, bytes } of dayBefore)
    if (start < since && start >= since - day) sums.set(start, (sums.get(start) ?? 0) + bytes);
  return rate > beyondLargest * Math.max(0, ...sums.values());
}

/** Whether a source surged at this hour of the day before, by when its surges began (milliseconds): then it is its habit. */
export function isHabit(since: number, before: readonly number[]): boolean {
  return before.some((time) => {
    const back = since - time;
    const ofDay = (((back + day / 2) % day) + day) % day;
    return back > day / 2 && back < habitFor && Math.abs(ofDay - day / 2) <= hour;
  });
}

/** Minutes whose mean decides whether a surge goes on, and how many times what is usual it must be. */
const goingMinutes = 5;
const goingFactor = 2;

/** How many times what is usual a source sent in its last minutes; undefined once that is usual again. */
export function timesUsual(usual: UsualRate, minutes: readonly SentBytes[], now: number): number | undefined {
  const end = Math.floor(now / minute) * minute;
  const from = end - goingMinutes * minute;
  const sent = minutes.reduce((sum, { start, bytes }) => (start >= from && start < end ? sum + bytes : sum), 0);
  const times = sent / goingMinutes / Math.max(usual.bytes, 1);
  return times >= goingFactor ? times : undefined;
}

/** A surge as a change of its source. */
export function surgeDrift({ since, rate, usual }: Surge): Drift {
  return {
    kind: 'volume-surged',
    subject: 'above',
    text: `${formatBytes(rate)} a minute; ${formatBytes(usual.bytes)} are usual ${usual.when}`,
    since,
    shows: '',
  };
}
