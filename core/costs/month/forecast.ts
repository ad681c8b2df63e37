import { deviationScale, exactQuantile, median } from '../../sketches/exact-quantile.ts';

/** What the rest of a month will cost, with the range that nine of ten such forecasts end in; in the unit of the days given. */
export interface Forecast {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
  /** By day to come, what is expected of it. */
  readonly byDay: readonly number[];
}

/** Fewest full days from which anything can be said. */
export const fewestDays = 4;

const daysBack = 56;
/** A step is one when it has lasted so many days, and is at least so large (as a logarithm). */
const leastStepDays = 3;
const leastStep = 0.15;
/** Days that a level is taken from, and fewest for a trend. */
const levelDays = 14;
const trendDays = 14;
/** The share of a trend that is left each day: a damped trend (E. S. Gardner, E. McKenzie 1985). */
const trendDamping = 0.95;

/**
 * How the days to come go on from full days, the latest last. Each is as its weekday is, at the level since the last step,
 * with the damped trend since then where it is long enough to have one; all three are medians, so that a day that went wrong counts
 * for as little as a day can (level and slope: H. Theil 1950, P. K. Sen 1968). The range is from how far the same forecasts
 * made earlier were off, and no narrower than the scatter of days allows. Undefined where fewer than {@link fewestDays} are known.
 */
export function forecastDays(
  past: readonly number[],
  weekday: (index: number) => number,
  count: number,
): Forecast | undefined {
  const values = past.slice(-daysBack);
  const offset = past.length - values.length;
  if (values.length < fewestDays) return undefined;
  const at = (index: number): number => weekday(index + offset);
  const byDay = expectedDays(values, at, count);
  const middle = sumOf(byDay);
  const width = widthOf(values, at, count);
  return { low: middle * Math.exp(-width), middle, high: middle * Math.exp(width), byDay };
}

function expectedDays(values: readonly number[], weekday: (index: number) => number, count: number): readonly number[] {
  const factors = weekdayFactors(values, weekday);
  const factor = (index: number): number => factors[weekday(index)] as number;
  const level = values.map((value, i) => Math.log(Math.max(value, 1e-12) / factor(i)));
  const steady = level.slice(lastStep(level));
  const recent = steady.slice(-levelDays);
  const slope = steady.length >= trendDays ? trendOf(steady) : 0;
  const now = median(recent.map((value, i) => value + slope * (recent.length - 1 - i)));
  return Array.from({ length: count }, (_, i) => Math.exp(now + slope * dampedDays(i + 1)) * factor(values.length + i));
}

/** How many days of undamped trend the damped trend of so many days is worth. */
function dampedDays(days: number): number {
  return (trendDamping * (1 - trendDamping ** days)) / (1 - trendDamping);
}

/** By weekday, how its days are to their week: medians of the days by the median of the seven around each. */
function weekdayFactors(values: readonly number[], weekday: (index: number) => number): readonly number[] {
  const ratios: number[][] = Array.from({ length: 7 }, () => []);
  for (let i = 3; i + 3 < values.length; i++) {
    const week = values.slice(i - 3, i + 4);
    const middle = sumOf([...week].sort((a, b) => a - b).slice(1, -1)) / 5;
    if (middle > 0) ratios[weekday(i)]?.push((values[i] as number) / middle);
  }
  if (values.length < 14) return ratios.map(() => 1);
  const factors = ratios.map((list) => (list.length > 0 ? Math.max(0.01, median(list)) : 1));
  const mean = sumOf(factors) / 7;
  return factors.map((factor) => factor / mean);
}

/** Where the last step begins; 0 where there is none. */
function lastStep(level: readonly number[]): number {
  const scatter = scatterOf(level);
  for (let at = level.length - leastStepDays; at >= leastStepDays; at--) {
    const [before, after] = [level.slice(Math.max(0, at - 7), at), level.slice(at, at + 7)];
    const height = Math.abs(median(after) - median(before));
    const edge = Math.abs((level[at] as number) - (level[at - 1] as number));
    const least = Math.max(leastStep, 4 * scatter);
    if (height > least && edge > height / 2) return at;
  }
  return 0;
}

/** The usual difference from a day to the next, as a standard deviation of a day. */
function scatterOf(level: readonly number[]): number {
  const differences = level.slice(1).map((value, i) => Math.abs(value - (level[i] as number)));
  return (median(differences) * deviationScale) / Math.SQRT2;
}

/** Median of the slopes between all days; 0 where days scatter too much to tell (twice the standard error of a slope). */
function trendOf(level: readonly number[]): number {
  const slopes: number[] = [];
  for (let i = 0; i < level.length; i++)
    for (let j = i + 7; j < level.length; j++) slopes.push(((level[j] as number) - (level[i] as number)) / (j - i));
  const slope = median(slopes);
  return Math.abs(slope) > 2 * scatterOf(level) * Math.sqrt(12 / level.length ** 3) ? slope : 0;
}

/** By how much (as a logarithm) nine of ten forecasts are off at most. */
function widthOf(values: readonly number[], weekday: (index: number) => number, count: number): number {
  const errors: number[] = [];
  const horizon = Math.max(1, Math.min(count, Math.floor(values.length / 3)));
  for (let end = Math.max(fewestDays, values.length - 28); end + horizon <= values.length; end++) {
    const expected = sumOf(expectedDays(values.slice(0, end), weekday, horizon));
    const came = sumOf(values.slice(end, end + horizon));
    if (expected > 0 && came > 0) errors.push(Math.abs(Math.log(came / expected)));
  }
  const factors = weekdayFactors(values, weekday);
  const level = values.map((value, i) => Math.log(Math.max(value, 1e-12) / (factors[weekday(i)] as number)));
  const day = Math.min(0.5, scatterOf(level));
  const days = Math.min(values.length - lastStep(level), levelDays);
  // Scatter of the days to come and of the factors of their weekdays, of the level, and of
  // where it may drift to; more than 1.645 times of it, as the scatter itself is known from few days.
  const least = 2.3 * day * Math.sqrt(1.4 / count + 1.57 / days + count / 150);
  const young = values.length < 14 ? 0.1 : 0.01;
  const usual = errors.length >= 5 ? exactQuantile(errors, 0.9) * Math.sqrt(Math.max(1, count / horizon)) : 0;
  return Math.max(least, usual, young);
}

function sumOf(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0);
}
