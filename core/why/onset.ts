import { day } from '../events/time-units.ts';
import { median } from '../sketches/exact-quantile.ts';
import { bendWithin, changeWithin, type Level, levelsOf, type Series } from './change-points.ts';
import { type Counts, rhythmOf } from './rhythm.ts';

/** How a figure changed: to a new level at once, gradually, for a limited time, or down to zero. */
export type Form = 'step' | 'ramp' | 'temporary' | 'stopped';

/** A change of a figure over time. Times in milliseconds. */
export interface Onset {
  readonly began: number;
  /** When it returned to normal; absent if it has not. */
  readonly ended?: number;
  readonly form: Form;
  /** When the new level was reached; later than `began` for a ramp. */
  readonly reached: number;
}

/** A level is a change if it differs from normal by this fraction of the larger of both. */
const leastChange = 0.1;
/** A ramp needs a straight line whose cost is at most this fraction of the cost of a jump. */
const rampCost = 0.85;
/** Shortest level, in intervals. */
const shortest = 2;

/**
 * The most important change of some counts within a window (milliseconds): the episode in or reaching into the window that differs most
 * from the normal level, which is taken from the time before the window. Undefined if the counts stay normal.
 */
export function onsetOf(counts: Counts, window: { readonly from: number; readonly to: number }): Onset | undefined {
  const rhythm = rhythmOf(counts, window.from);
  const ratios = { values: counts.sums.map((sum, i) => sum / (rhythm[i] as number)), weights: rhythm };
  const expected = expectedOf(counts, window.from);
  const more = {
    values: counts.sums.map((sum, i) => sum - (expected[i] as number)),
    weights: rhythm.map((part) => 1 / part),
  };
  return onsetIn(ratios, counts, window, more);
}

/**
 * A series for a figure that is not a count, on a logarithmic scale, so that doubling weighs as much as halving. `figures` has NaN for
 * intervals without events; `events` are the events of each interval.
 */
export function figureSeries(figures: Float64Array, events: Float64Array): Series {
  const known = figures.filter((figure) => !Number.isNaN(figure));
  const base = Math.max(smallPart * median([...known]), Number.MIN_VALUE);
  const values = figures.map((figure) => (Number.isNaN(figure) ? 0 : Math.log(Math.max(0, figure) + base)));
  return { values, weights: events.map((count, i) => (Number.isNaN(figures[i] as number) ? 0 : count)) };
}

/** Days whose mean is the normal level. */
const usualDays = 7;

/** The count to expect in each interval if the level and rhythm of the week before `until` (milliseconds) had continued. */
export function expectedOf(counts: Counts, until: number): Float64Array {
  const { start, width, sums } = counts;
  const rhythm = rhythmOf(counts, until);
  const to = Math.max(1, Math.floor((until - start) / width));
  const from = Math.max(0, to - Math.round((usualDays * day) / width));
  const mean = sumOf(sums.subarray(from, to)) / Math.max(sumOf(rhythm.subarray(from, to)), Number.MIN_VALUE);
  return rhythm.map((part) => part * mean);
}

function sumOf(values: Float64Array): number {
  return values.reduce((sum, value) => sum + value, 0);
}

/** Added to a figure before taking its logarithm, as a fraction of the median, because a figure may be 0. */
const smallPart = 0.1;

/**
 * As {@link onsetOf} for any series with one value per interval. `amounts` is the absolute excess over normal; a ramp must also rise
 * gradually in it.
 */
export function onsetIn(
  series: Series,
  { start, width }: Pick<Counts, 'start' | 'width'>,
  window: { readonly from: number; readonly to: number },
  amounts: Series = aboveUsual(series),
): Onset | undefined {
  const levels = levelsOf(series, shortest);
  const first = Math.max(0, Math.floor((window.from - start) / width));
  const usual = usualLevel(levels, first);
  const size = (episode: Episode): number => Math.abs(excessOf(series, episode, usual, first));
  const episode = episodesOf(levels, usual)
    .filter(({ to }) => to > first)
    .sort((a, b) => size(b) - size(a))[0];
  if (!episode) return undefined;
  const timeOf = (step: number): number => start + step * width;
  const bend = bendOf(series, amounts, episode, levels, day / 2 / width);
  const isOver = episode.to < series.values.length;
  return {
    began: timeOf(bend ?? episode.from),
    ...(isOver && { ended: timeOf(episode.to) }),
    form: bend !== undefined ? 'ramp' : isOver ? 'temporary' : hasCeased(levels, usual) ? 'stopped' : 'step',
    reached: timeOf(bend === undefined ? episode.from : reachedAt(episode, levels)),
  };
}

/** A series as differences from its median. */
function aboveUsual({ values, weights }: Series): Series {
  const usual = median([...values]);
  return { values: values.map((value) => value - usual), weights };
}

/** Consecutive intervals in which a figure stays on one side of its normal level. */
interface Episode {
  readonly from: number;
  readonly to: number;
  readonly isAbove: boolean;
}

/** The median level before an interval, weighted by time; the first level if there is none. */
function usualLevel(levels: readonly Level[], until: number): number {
  const before = levels
    .map(({ from, to, mean }) => ({ mean, steps: Math.min(to, until) - from }))
    .filter(({ steps }) => steps > 0)
    .sort((a, b) => a.mean - b.mean);
  let left = before.reduce((sum, { steps }) => sum + steps, 0) / 2;
  for (const { mean, steps } of before) {
    left -= steps;
    if (left <= 0) return mean;
  }
  return levels[0]?.mean ?? 0;
}

function episodesOf(levels: readonly Level[], usual: number): readonly Episode[] {
  const episodes: Episode[] = [];
  for (const level of levels) {
    if (!isChange(usual, level.mean)) continue;
    const isAbove = level.mean > usual;
    const last = episodes.at(-1);
    if (last && last.to === level.from && last.isAbove === isAbove)
      episodes[episodes.length - 1] = { ...last, to: level.to };
    else episodes.push({ from: level.from, to: level.to, isAbove });
  }
  return episodes;
}

/** The excess over the normal level within an episode, from interval `first` on. */
function excessOf({ values, weights }: Series, { from, to }: Episode, usual: number, first: number): number {
  let excess = 0;
  for (let i = Math.max(from, first); i < to; i++) excess += (weights[i] as number) * ((values[i] as number) - usual);
  return excess;
}

/** The levels at the beginning of an episode, as long as they move away from normal. */
function riseOf({ from, to, isAbove }: Episode, levels: readonly Level[]): readonly Level[] {
  const rise: Level[] = [];
  for (const level of levels) {
    if (level.from < from || level.from >= to) continue;
    const last = rise.at(-1);
    if (last && level.mean > last.mean !== isAbove) break;
    rise.push(level);
  }
  return rise;
}

function reachedAt(episode: Episode, levels: readonly Level[]): number {
  return riseOf(episode, levels).at(-1)?.from ?? episode.from;
}

/** The interval in which an episode began as a ramp; undefined if it jumped. */
function bendOf(
  series: Series,
  amounts: Series,
  episode: Episode,
  levels: readonly Level[],
  longest: number,
): number | undefined {
  const rise = riseOf(episode, levels);
  const [first] = rise;
  const [previous, last] = rise.slice(-2) as [Level, Level | undefined];
  const took = last ? last.from - episode.from : 0;
  if (!first || !last || took < fewSteps || took > longest) return undefined;
  // A constant addition looks like a ramp in the ratio while the normal level falls in the evening.
  if (meanOf(amounts, first) > gradual * meanOf(amounts, last)) return undefined;
  // A long last level would bend the line: use only as much of it as the level before lasted.
  const to = Math.min(last.to, last.from + previous.to - previous.from);
  const bend = bendWithin(series, Math.max(0, episode.from - Math.ceil(longest)), to);
  return bend.cost < rampCost ? bend.at : undefined;
}

/** A shorter rise is a jump in the middle of an interval. */
const fewSteps = 4;
/** In a ramp, the first level is at most this fraction of the last. */
const gradual = 0.6;

function meanOf({ values }: Series, { from, to }: Level): number {
  return Math.abs(sumOf(values.subarray(from, to)) / (to - from));
}

/** Less than this fraction of normal counts as zero. */
const nothing = 0.01;

/** Whether a figure that was above 0 has dropped to zero at the end. */
function hasCeased(levels: readonly Level[], usual: number): boolean {
  return usual > 0 && Math.abs(levels.at(-1)?.mean ?? 0) <= usual * nothing;
}

function isChange(before: number, since: number): boolean {
  return Math.abs(since - before) > leastChange * Math.max(Math.abs(before), Math.abs(since));
}

/** The index at which a change begins in a finer series around it: where a ramp starts to rise, otherwise where the level jumps. */
export function beganWithin(series: Series, form: Form): number {
  const { length } = series.values;
  return form === 'ramp' ? bendWithin(series, 0, length).at : changeWithin(series, 0, length);
}
