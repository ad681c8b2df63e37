import { hour, minute } from '../events/time-units.ts';
import { formatBytes } from '../events/units.ts';
import { isWeekend } from '../events/weekend.ts';
import { median, medianDeviation } from '../sketches/exact-quantile.ts';
import type { Drift } from './drift.ts';

/** What a source sent in a stretch that begins at `start` (milliseconds). */
export interface SentBytes {
  readonly start: number;
  readonly bytes: number;
}

/** Bytes an hour that are usual for a source, at both ends and their median, and on which kind of days. */
export interface VolumeBand {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
  readonly days: 'weekdays' | 'weekends' | 'days';
}

/** Days of the past that are looked at, and how many must be known. */
const daysBack = 14;
const enoughDays = 4;
/** A volume is usual within half and twice the median, and within this many deviations. */
const usualFactor = 2;
const usualDeviations = 4;
/** Sources that sent fewer bytes in the hour are not judged: a few lines more are no change. */
const leastBytes = 20_000;
/** Minutes whose mean decides when a change began. */
const onsetMinutes = 5;

/**
 * The usual band of a source for the hour around a time (milliseconds): from its sums by the hour at the same hour of the
 * days before, of the same kind of day where enough are known. Undefined while fewer than four days are known.
 */
export function usualBand(hours: readonly SentBytes[], at: number): VolumeBand | undefined {
  const here = Math.floor(at / hour);
  const past = hours.filter(({ start }) => {
    const back = here - Math.floor(start / hour);
    return back > 0 && back <= daysBack * 24 && back % 24 === 0;
  });
  const alike = past.filter(({ start }) => isWeekend(start) === isWeekend(at));
  const known = alike.length >= enoughDays ? alike : past;
  if (known.length < enoughDays) return undefined;
  const values = known.map(({ bytes }) => bytes);
  const middle = median(values);
  const deviation = medianDeviation(values, middle);
  return {
    middle,
    low: Math.max(0, Math.min(middle / usualFactor, middle - usualDeviations * deviation)),
    high: Math.max(middle * usualFactor, middle + usualDeviations * deviation),
    days: known === past ? 'days' : isWeekend(at) ? 'weekends' : 'weekdays',
  };
}

/**
 * The change of a source that sent more or less in the hour before `now` (milliseconds) than is usual, with the minute in
 * which it began; undefined where the volume is usual, nothing came (that is silence) or too little is known. `minutes` are
 * its sums by the minute of the last hours.
 */
export function volumeDrift(
  hours: readonly SentBytes[],
  minutes: readonly SentBytes[],
  now: number,
): Drift | undefined {
  const end = Math.floor(now / minute) * minute;
  const band = usualBand(hours, end - hour / 2);
  const sent = sumOf(minutes, end - hour, end);
  if (!band || sent === 0 || Math.max(sent, band.high) < leastBytes) return undefined;
  const isAbove = sent > band.high;
  if (!isAbove && sent >= band.low) return undefined;
  const edge = isAbove ? band.high : band.low;
  const beyond = (bytesAnHour: number): boolean => (isAbove ? bytesAnHour > edge : bytesAnHour < edge);
  const usual = `${formatBytes(band.low)} to ${formatBytes(band.high)} are usual at this hour of ${band.days}`;
  return {
    kind: 'volume-moved',
    subject: isAbove ? 'above' : 'below',
    text: `${formatBytes(sent)} came in an hour; ${usual}`,
    since: onsetOf(minutes, end, beyond),
    shows: '',
  };
}

/** The minute from which on the mean of some minutes is beyond an edge. */
function onsetOf(minutes: readonly SentBytes[], end: number, beyond: (bytesAnHour: number) => boolean): number {
  const earliest = minutes.reduce((least, { start }) => Math.min(least, start), end);
  let since = end - onsetMinutes * minute;
  while (since > earliest) {
    const mean = (sumOf(minutes, since - minute, since + (onsetMinutes - 1) * minute) * 60) / onsetMinutes;
    if (!beyond(mean)) break;
    since -= minute;
  }
  return since;
}

function sumOf(sums: readonly SentBytes[], from: number, to: number): number {
  let total = 0;
  for (const { start, bytes } of sums) if (start >= from && start < to) total += bytes;
  return total;
}
