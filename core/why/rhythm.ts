import { day } from '../events/time-units.ts';
import { isWeekend } from '../events/weekend.ts';
import { median } from '../sketches/exact-quantile.ts';

/** Sums of what happened in stretches of equal length. */
export interface Counts {
  /** Start of the first stretch, in milliseconds. */
  readonly start: number;
  /** Length of a stretch in milliseconds; a whole number of them makes a day. */
  readonly width: number;
  readonly sums: Float64Array;
}

/** Fewest days by which a rhythm is known. */
const enoughDays = 3;
const enoughWeekendDays = 2;
/** Stretches to both sides whose mean is taken, as a part of a day: a rhythm has no sharp edges. */
const smoothedOver = 1 / 96;

/**
 * The part of a day's sum that is usual for the time of day of each stretch, as a multiple of an even one: 1 all day where nothing has a
 * rhythm, or fewer than three days are known. It is the median of the days (UTC), each taken as a part of its own sum, so that a day on
 * which there was more changes nothing. Weekends have as much more or less as their
 * median day. Where three days before `until` (milliseconds) are known, no later ones are looked at.
 */
export function rhythmOf({ start, width, sums }: Counts, until: number): Float64Array {
  const slots = Math.round(day / width);
  const rhythm = new Float64Array(sums.length).fill(1);
  const first = Math.ceil(start / day) * day;
  const known: {
    readonly end: number;
    readonly parts: Float64Array;
    readonly total: number;
    readonly isWeekend: boolean;
  }[] = [];
  for (let at = Math.round((first - start) / width); at + slots <= sums.length; at += slots) {
    const whole = sums.subarray(at, at + slots);
    const total = whole.reduce((sum, value) => sum + value, 0);
    const parts = smoothed(whole).map((value) => (value * slots) / total);
    const begins = start + at * width;
    if (total > 0) known.push({ end: begins + day, parts, total, isWeekend: isWeekend(begins) });
  }
  const earlier = known.filter(({ end }) => end <= until);
  const days = earlier.length < enoughDays ? known : earlier;
  if (days.length < enoughDays) return rhythm;
  const usual = Float64Array.from({ length: slots }, (_, slot) =>
    median(days.map(({ parts }) => parts[slot] as number)),
  );
  const mean = usual.reduce((sum, value) => sum + value, 0) / slots;
  if (mean === 0) return rhythm;
  const totals = (ofWeekend: boolean): readonly number[] =>
    days.filter((one) => one.isWeekend === ofWeekend).map(({ total }) => total);
  const weekends = totals(true);
  const weekdays = totals(false);
  const weekend =
    weekends.length >= enoughWeekendDays && weekdays.length >= enoughDays ? median(weekends) / median(weekdays) : 1;
  return rhythm.map((_, i) => {
    const time = start + i * width;
    const part = (usual[Math.floor((((time % day) + day) % day) / width)] as number) / mean;
    return Math.max(part * (isWeekend(time) ? weekend : 1), leastPart);
  });
}

/** What is usual is never nothing: then one event more would be any number of times as much. */
const leastPart = 0.02;

/** Means of each stretch of a day with its neighbours. */
function smoothed(values: Float64Array): Float64Array {
  const reach = Math.max(1, Math.round(values.length * smoothedOver));
  const { length } = values;
  return values.map((_, i) => {
    let sum = 0;
    for (let k = i - reach; k <= i + reach; k++) sum += values[(k + length) % length] as number;
    return sum / (2 * reach + 1);
  });
}
