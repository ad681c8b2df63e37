/**
 * The quantile of all values: of 0.5 the middle one, straight between two where it is between them. `rank` is from 0 to 1;
 * NaN of no values.
 */
export function exactQuantile(values: readonly number[], rank: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  const place = rank * (sorted.length - 1);
  const below = sorted[Math.floor(place)] ?? Number.NaN;
  const above = sorted[Math.ceil(place)] ?? Number.NaN;
  return below + (place % 1) * (above - below);
}

/** Makes the median absolute deviation comparable to a standard deviation (F. R. Hampel 1974, for a normal distribution). */
export const deviationScale = 1.4826;

/** How far values typically lie from a middle: the median absolute deviation, comparable to a standard deviation; NaN of none. */
export function medianDeviation(values: readonly number[], middle: number): number {
  return deviationScale * median(values.map((value) => Math.abs(value - middle)));
}

/** The middle one of all values; NaN of none. */
export function median(values: readonly number[]): number {
  return exactQuantile(values, 0.5);
}
