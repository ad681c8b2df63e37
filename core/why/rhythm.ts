import { day } from '../events/time-units.ts';
import { isWeekend } from '../events/weekend.ts';
import { median } from '../sketches/exact-quantile.ts';

/** Counts or sums in intervals of equal length. */
export interface Counts {
  /** Start of the first interval, in milliseconds. */
  readonly start: number;
  /** Length of an interval in milliseconds; divides a day. */
  readonly width: number;
  readonly sums: Float64Array;
}

/** Days needed to know a rhythm, and weekend days for a weekend factor. */
const enoughDays = 3;
const enoughWeekendDays = 2;
/** Half of the smoothing window, as a fraction of a day. */
const smoothedOver = 1 / 96;

/**
 * The daily rhythm for each interval, as a multiple of an even distribution; all 1 if fewer than three days (UTC) are known. It is the
 * median over days, each as a fraction of its own total, so days with more traffic do not matter, with a factor for weekends. Only days
 * before `until` (milliseconds) count, if there are three of them.
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

/** Lower bound of the rhythm, so that ratios stay finite. */
const leastPart = 0.02;

/** Moving averages over a day, wrapping around midnight. */
function smoothed(values: Float64Array): Float64Array {
  const reach = Math.max(1, Math.round(values.length * smoothedOver));
  const { length } = values;
  return values.map((_, i) => {
    let sum = 0;
    for (let k = i - reach; k <= i + reach; k++) sum += values[(k + length) % length] as number;
    return sum / (2 * reach + 1);
  });
}
