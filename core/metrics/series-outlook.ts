import type { MetricTrial } from './metric-trial.ts';
import { countSeen, growthPower, type SeenValues } from './seen-values.ts';
import type { DistinctEstimate } from './series-estimate.ts';

/** What is to be expected of a metric's series, by what a trial saw in some time. Times in milliseconds. */
export interface SeriesOutlook {
  /** Series by the time that was looked at. */
  readonly now: DistinctEstimate;
  /** Series that come in a time. */
  readonly within: (time: number) => number;
  /** The values of a key, by its place. */
  readonly values: (key: number) => DistinctEstimate;
  /** Whether a key's values are without end, as those of users or requests are. */
  readonly isOpen: (key: number, time: number) => boolean;
  /** Series that come in a time without a key, and with so many of its values and the rest. */
  readonly without: (key: number, time: number) => number;
  readonly withTop: (key: number, top: number, time: number) => number;
}

/** A key of which so many values come, and more all the time (by what power of it), is without end. */
const manyValues = 500;
const openPower = 0.4;

/** Looks ahead from a trial over a time of `seen` milliseconds. */
export function seriesOutlook(trial: MetricTrial, seen: number): SeriesOutlook {
  const { keys } = trial.accumulator.metric;
  const inTime = (values: SeenValues, time: number): number =>
    Math.round(countSeen(values, trial).likely * (time / seen) ** growthPower(values, trial));
  const keyOf = (key: number): SeenValues => trial.keys[key] as SeenValues;
  const withoutKey = (key: number, time: number): number => inTime(trial.without[key] as SeenValues, time);
  /** Values of a key that series have: those of its top, and the rest. */
  const seriesBy = (key: number, time: number): number =>
    Math.min((keys[key]?.top ?? Number.POSITIVE_INFINITY) + 1, inTime(keyOf(key), time));
  const cut = (count: number, time: number): number => {
    const bounds = keys.flatMap(({ top }, i) => (top === undefined ? [] : [withoutKey(i, time) * seriesBy(i, time)]));
    return Math.min(
      count,
      keys.reduce((product, _, i) => product * seriesBy(i, time), 1),
      ...bounds,
    );
  };
  const within = (time: number): number => cut(inTime(trial.combinations, time), time);
  return {
    now: eachOf(countSeen(trial.combinations, trial), (count) => cut(count, seen)),
    within,
    values: (key) => eachOf(countSeen(keyOf(key), trial), (count) => count),
    isOpen: (key, time) =>
      keys[key]?.top === undefined &&
      inTime(keyOf(key), time) > manyValues &&
      growthPower(keyOf(key), trial) > openPower,
    without: withoutKey,
    withTop: (key, top, time) => Math.min(within(time), withoutKey(key, time) * (top + 1)),
  };
}

/** Each figure of an estimate with a function applied, in whole numbers. */
function eachOf({ likely, least, most }: DistinctEstimate, of: (count: number) => number): DistinctEstimate {
  return { likely: Math.round(of(likely)), least: Math.round(of(least)), most: Math.round(of(most)) };
}
