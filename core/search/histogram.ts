import type { TimeWindow } from '../conditions/times.ts';
import type { EventBatch } from '../events/batch.ts';
import { severityClass, severityClasses } from '../events/severity.ts';
import { day, hour, minute, second } from '../events/time-units.ts';

/** Buckets of equal width that cover a window; the first and the last may reach beyond it. Times in milliseconds. */
export interface Buckets {
  /** Where the first bucket begins, a multiple of `width`. */
  readonly start: number;
  readonly width: number;
  readonly count: number;
}

/** Widths that begin where people begin to count; from a minute up all are made of whole minutes. */
const widths: readonly number[] = [
  ...[1, 2, 5, 10, 20, 50, 100, 200, 500],
  ...[1, 2, 5, 10, 15, 30].map((seconds) => seconds * second),
  ...[1, 2, 5, 10, 15, 30].map((minutes) => minutes * minute),
  ...[1, 2, 3, 4, 6, 8, 12].map((hours) => hours * hour),
  day,
];

/** Buckets for a window, about as many as wanted: one more at most. None where none are wanted. */
export function bucketsFor({ from, to }: TimeWindow, wanted: number): Buckets {
  if (wanted <= 0 || to <= from) return { start: from, width: 1, count: 0 };
  const least = (to - from) / wanted;
  const width = widths.find((candidate) => candidate >= least) ?? Math.ceil(least / day) * day;
  const start = Math.floor(from / width) * width;
  return { start, width, count: Math.ceil((to - start) / width) };
}

/** For each bucket a count for each class of severity ({@link severityClass}), all of them 0. */
export function newHistogram({ count }: Buckets): Float64Array {
  return new Float64Array(count * severityClasses);
}

/** Counts rows of a batch, their weights included. Their times have to lie in the window of the buckets. */
export function addToHistogram(
  histogram: Float64Array,
  { start, width, count }: Buckets,
  { time, severity, weight }: EventBatch,
  rows: Int32Array,
): void {
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const bucket = Math.min(count - 1, Math.floor(((time[row] as number) - start) / width));
    const place = bucket * severityClasses + severityClass(severity[row] as number);
    histogram[place] = (histogram[place] as number) + (weight[row] as number);
  }
}
