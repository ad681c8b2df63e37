import { day } from '../events/time-units.ts';
import { median } from '../sketches/exact-quantile.ts';
import { bendWithin, changeWithin, type Level, levelsOf, type Series } from './change-points.ts';
import { type Counts, rhythmOf } from './rhythm.ts';

/** How something changed: to another level and stayed there, little by little, for a while, or to nothing. */
export type Form = 'step' | 'drift' | 'spell' | 'end';

/** A change of a figure over time. Times in milliseconds. */
export interface Onset {
  readonly began: number;
  /** When it was as before again; absent: it goes on. */
  readonly ended?: number;
  readonly form: Form;
  /** When it had reached what it came to; of a drift later than `began`. */
  readonly reached: number;
}

/** A level must differ from the one before by this part of the larger one. */
const leastChange = 0.1;
/** A straight line must fit by so much better than a jump (as its cost) for a drift. */
const driftCost = 0.85;
/** Shortest level in stretches. */
const shortest = 2;

/**
 * The change of some counts that matters most to the stretches of `window` (milliseconds): the spell, in it or reaching into it, in
 * which they were farthest from their usual level. Undefined where they keep to it. What was before the window tells what is usual.
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
 * The steps of a figure that is no count, put so that what doubles changes as much as what halves: `figures` by stretch, NaN where there
 * is none, and the events behind each.
 */
export function figureSeries(figures: Float64Array, events: Float64Array): Series {
  const known = figures.filter((figure) => !Number.isNaN(figure));
  const base = Math.max(smallPart * median([...known]), Number.MIN_VALUE);
  const values = figures.map((figure) => (Number.isNaN(figure) ? 0 : Math.log(Math.max(0, figure) + base)));
  return { values, weights: events.map((count, i) => (Number.isNaN(figures[i] as number) ? 0 : count)) };
}

/** Days before a change over which the mean of what was usual is taken. */
const usualDays = 7;

/** What was to be expected in each stretch, had what was usual in the week before `until` (milliseconds) gone on. */
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

/** What is added to a figure before its logarithm is taken, as a part of the median: a figure may be 0. */
const smallPart = 0.1;

/**
 * As {@link onsetOf}, of a figure that is no count: `series` has a step for each of the stretches. `amounts` is how much more there was
 * than usual.
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
  const size = (spell: Spell): number => Math.abs(excessOf(series, spell, usual, first));
  const spell = spellsOf(levels, usual)
    .filter(({ to }) => to > first)
    .sort((a, b) => size(b) - size(a))[0];
  if (!spell) return undefined;
  const timeOf = (step: number): number => start + step * width;
  const bend = bendOf(series, amounts, spell, levels, day / 2 / width);
  const isOver = spell.to < series.values.length;
  return {
    began: timeOf(bend ?? spell.from),
    ...(isOver && { ended: timeOf(spell.to) }),
    form: bend !== undefined ? 'drift' : isOver ? 'spell' : hasCeased(levels, usual) ? 'end' : 'step',
    reached: timeOf(bend === undefined ? spell.from : reachedAt(spell, levels)),
  };
}

/** How far a series is from its median. */
function aboveUsual({ values, weights }: Series): Series {
  const usual = median([...values]);
  return { values: values.map((value) => value - usual), weights };
}

/** Steps in which a figure stays on one side of its usual level. */
interface Spell {
  readonly from: number;
  readonly to: number;
  readonly isAbove: boolean;
}

/** The level that a series had most of the time before a step, or else the first one. */
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

function spellsOf(levels: readonly Level[], usual: number): readonly Spell[] {
  const spells: Spell[] = [];
  for (const level of levels) {
    if (!isChange(usual, level.mean)) continue;
    const isAbove = level.mean > usual;
    const last = spells.at(-1);
    if (last && last.to === level.from && last.isAbove === isAbove)
      spells[spells.length - 1] = { ...last, to: level.to };
    else spells.push({ from: level.from, to: level.to, isAbove });
  }
  return spells;
}

/** How much more there was in a spell than usual, from a step on. */
function excessOf({ values, weights }: Series, { from, to }: Spell, usual: number, first: number): number {
  let excess = 0;
  for (let i = Math.max(from, first); i < to; i++) excess += (weights[i] as number) * ((values[i] as number) - usual);
  return excess;
}

/** The levels of a spell up to the one in which it is farthest from what was before, within half a day. */
function riseOf({ from, to, isAbove }: Spell, levels: readonly Level[]): readonly Level[] {
  const rise: Level[] = [];
  for (const level of levels) {
    if (level.from < from || level.from >= to) continue;
    const last = rise.at(-1);
    if (last && level.mean > last.mean !== isAbove) break;
    rise.push(level);
  }
  return rise;
}

function reachedAt(spell: Spell, levels: readonly Level[]): number {
  return riseOf(spell, levels).at(-1)?.from ?? spell.from;
}

/** The step where a spell began little by little, as a straight line; undefined where it jumped. */
function bendOf(
  series: Series,
  amounts: Series,
  spell: Spell,
  levels: readonly Level[],
  longest: number,
): number | undefined {
  const rise = riseOf(spell, levels);
  const [first] = rise;
  const [previous, last] = rise.slice(-2) as [Level, Level | undefined];
  const took = last ? last.from - spell.from : 0;
  if (!first || !last || took < fewSteps || took > longest) return undefined;
  // What is as much at all hours is ever more times what is usual while that falls: it has all come at once.
  if (meanOf(amounts, first) > gradual * meanOf(amounts, last)) return undefined;
  // Of the last level as much as lasted as long as the one before it.
  const to = Math.min(last.to, last.from + previous.to - previous.from);
  const bend = bendWithin(series, Math.max(0, spell.from - Math.ceil(longest)), to);
  return bend.cost < driftCost ? bend.at : undefined;
}

/** What happens in fewer steps has jumped: in the middle of one of them. */
const fewSteps = 4;
/** What came first is less than this part of what it came to, where something came little by little. */
const gradual = 0.6;

function meanOf({ values }: Series, { from, to }: Level): number {
  return Math.abs(sumOf(values.subarray(from, to)) / (to - from));
}

/** Less than this part of what was before is nothing. */
const nothing = 0.01;

/** Whether something that was above 0 came to nothing at last. */
function hasCeased(levels: readonly Level[], usual: number): boolean {
  return usual > 0 && Math.abs(levels.at(-1)?.mean ?? 0) <= usual * nothing;
}

function isChange(before: number, since: number): boolean {
  return Math.abs(since - before) > leastChange * Math.max(Math.abs(before), Math.abs(since));
}

/**
 * The step with which a change began, of a series by finer steps around it: for one that went little by little where the straight line
 * begins, else where it jumps.
 */
export function beganWithin(series: Series, form: Form): number {
  const { length } = series.values;
  return form === 'drift' ? bendWithin(series, 0, length).at : changeWithin(series, 0, length);
}
