import { hour } from '../events/time-units.ts';
import { formatBytes, formatCount } from '../events/units.ts';
import { isWeekend } from '../events/weekend.ts';
import { exactQuantile } from '../sketches/exact-quantile.ts';
import type { CapUnit } from './cap.ts';
import type { ZoneDay } from './day-of-zone.ts';

/** What a tier wanted to keep in an hour that begins at `start` (milliseconds): what it kept, and what was over. */
export interface HourSum {
  readonly start: number;
  readonly amount: number;
}

/** A figure with the range that eight of ten past days lay in. */
export interface Band {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
}

/** How today goes on. */
export interface CapForecast {
  /** What the tier will have wanted to keep when the day ends. */
  readonly byEnd: Band;
  /** When the cap is met (milliseconds), and the earliest and latest that it may be; null: not today. */
  readonly meets: { readonly earliest: number; readonly middle: number | null; readonly latest: number | null } | null;
}

/** An allowance that would suit a tier, and why, in a sentence. */
export interface CapSuggestion {
  readonly amount: number;
  readonly reason: string;
}

/** Days of the past that are looked at, and how many must be known of one kind of days. */
const daysBack = 14;
const enoughDays = 4;
/** How far today may lie from the past, as a factor. */
const mostPace = 5;
/** The suggestion is so many times the mean of full days. */
const timesMean = 3;

/**
 * How a day goes on after `now` (milliseconds): each hour to come is as the same hour of the days before, of the same kind
 * of day (weekday, weekend) where enough are known, times today's pace so far. `amount` is what the day allows. Undefined
 * while nothing is known.
 */
export function forecastCap(
  hours: readonly HourSum[],
  day: ZoneDay,
  now: number,
  amount: number,
): CapForecast | undefined {
  const soFar = sumOf(hours, day.start, now + 1);
  const past = new Map<number, number>();
  for (const { start, amount: value } of hours) {
    const at = Math.floor(start / hour);
    past.set(at, (past.get(at) ?? 0) + value);
  }
  const first = Math.min(...past.keys());
  const expected = (at: number): Band => band(pastValues(past, first, Math.floor(at / hour), day.start));
  const begun = Math.floor(now / hour) * hour;
  const pace = paceOf(hours, day.start, begun, expected);
  if (pace === undefined) return undefined;
  const total = { low: soFar, middle: soFar, high: soFar };
  const meets: { low?: number; middle?: number; high?: number } = {};
  for (let at = begun; at < day.end; at += hour) {
    const from = Math.max(at, now);
    const share = (Math.min(at + hour, day.end) - from) / hour;
    const next = expected(at);
    for (const edge of ['low', 'middle', 'high'] as const) {
      const comes = next[edge] * pace * share;
      if (meets[edge] === undefined && total[edge] + comes >= amount)
        meets[edge] = comes > 0 ? from + Math.max(0, (amount - total[edge]) / comes) * share * hour : from;
      total[edge] += comes;
    }
  }
  const { low, middle, high } = meets;
  return {
    byEnd: total,
    meets: high === undefined ? null : { earliest: high, middle: middle ?? null, latest: low ?? null },
  };
}

/** What came in the same hour of earlier days; of days of the same kind, where enough are known. */
function pastValues(past: ReadonlyMap<number, number>, first: number, at: number, today: number): readonly number[] {
  const known: { readonly value: number; readonly isAlike: boolean }[] = [];
  for (let back = 1; back <= daysBack; back++) {
    const then = at - 24 * back;
    // The hour in which the tier began is no whole hour; of those before nothing is known.
    if (then <= first || then * hour >= today) continue;
    known.push({ value: past.get(then) ?? 0, isAlike: isWeekend(then * hour) === isWeekend(at * hour) });
  }
  const alike = known.filter(({ isAlike }) => isAlike);
  return (alike.length >= enoughDays ? alike : known).map(({ value }) => value);
}

/** Today's volume as a multiple of what was expected of it so far; undefined where nothing is known of earlier days. */
function paceOf(
  hours: readonly HourSum[],
  from: number,
  to: number,
  expected: (at: number) => Band,
): number | undefined {
  let sum = 0;
  let isKnown = false;
  for (let at = Math.ceil(from / hour) * hour; at < to + 24 * hour; at += hour) {
    const { middle } = expected(at);
    if (middle > 0) isKnown = true;
    if (at < to) sum += middle;
  }
  if (!isKnown) return undefined;
  const came = sumOf(hours, from, to);
  return sum > 0 ? Math.min(mostPace, Math.max(1 / mostPace, came / sum)) : 1;
}

/**
 * A cap for a tier by what was measured: three times the mean of its full days, or the busiest of them, or what today is
 * heading for, whichever is most. Undefined while no full day is known.
 */
export function suggestCap(
  hours: readonly HourSum[],
  days: readonly ZoneDay[],
  forecast: CapForecast | undefined,
  unit: CapUnit,
): CapSuggestion | undefined {
  const first = hours.reduce((least, { start }) => Math.min(least, start), Number.POSITIVE_INFINITY);
  const full = days.filter(({ start }) => start > first).map((day) => sumOf(hours, day.start, day.end));
  const sum = full.reduce((all, value) => all + value, 0);
  if (sum === 0) return undefined;
  const mean = sum / full.length;
  const busiest = Math.max(...full);
  const heading = forecast?.byEnd.middle ?? 0;
  const written = (value: number): string => (unit === 'bytes' ? formatBytes(value) : `${formatCount(value)} events`);
  const amount = roundedUp(Math.max(mean * timesMean, busiest, heading));
  const why =
    mean * timesMean >= Math.max(busiest, heading)
      ? 'three times the mean'
      : busiest >= heading
        ? 'as much as the busiest'
        : 'more than any, as much as today is heading for,';
  const today = heading > 0 ? `; today is heading for ${written(heading)}` : '';
  return {
    amount,
    reason: `${why} of ${full.length === 1 ? 'the one full day' : `${full.length} full days`} (${written(mean)}); the busiest had ${written(busiest)}${today}`,
  };
}

/** The next number of two digits and zeros. */
export function roundedUp(value: number): number {
  const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, value))) - 1);
  return Math.ceil(value / step) * step;
}

/** Median and both ends of the middle eight tenths. */
function band(values: readonly number[]): Band {
  if (values.length === 0) return { low: 0, middle: 0, high: 0 };
  const at = (rank: number): number => exactQuantile(values, rank);
  return { low: at(0.1), middle: at(0.5), high: at(0.9) };
}

function sumOf(hours: readonly HourSum[], from: number, to: number): number {
  let sum = 0;
  for (const { start, amount } of hours) if (start >= from && start < to) sum += amount;
  return sum;
}
