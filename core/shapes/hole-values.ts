import { textsInForm } from './forms.ts';
import { piecesOf, tokenTexts } from './pieces.ts';
import { isHole, type Skeleton } from './token.ts';

/** What is in one hole of a shape's lines. */
export interface HoleSummary {
  readonly name: string;
  readonly type: string;
  /** Different values in the lines that were looked at; `isMore`: there are more than were told apart. */
  readonly distinct: number;
  readonly isMore: boolean;
  /** The commonest values. */
  readonly top: readonly { readonly value: string; readonly count: number }[];
  /** Where all values are numbers: the least and the greatest. */
  readonly range?: { readonly low: number; readonly high: number };
}

/** Most values of a hole that are told apart, and that are shown. */
const mostValues = 1_000;
const mostShown = 6;
/** Longest value that is shown, in characters. */
const longestValue = 80;

/** By hole in order, how often each value is in it. Plain data. */
export type HoleValues = readonly Map<string, number>[];

/** A count of nothing yet for each hole of a skeleton. */
export function newHoleValues(skeleton: Skeleton): HoleValues {
  return skeleton.filter(isHole).map(() => new Map<string, number>());
}

/** Counts the values in some lines of a shape; lines that do not have its tokens are passed over. */
export function countHoleValues(skeleton: Skeleton, lines: Iterable<string>): HoleValues {
  const holes = skeleton.flatMap((token, place) => (isHole(token) ? [place] : []));
  const values = newHoleValues(skeleton);
  for (const line of lines) {
    const texts = textsInForm(skeleton, tokenTexts(line));
    if (!texts) continue;
    holes.forEach((place, i) => {
      addValue(values[i] as Map<string, number>, texts[place] as string, 1);
    });
  }
  return values;
}

/** Adds what was counted in other lines. */
export function mergeHoleValues(into: HoleValues, other: HoleValues): void {
  other.forEach((counts, i) => {
    for (const [value, count] of counts) addValue(into[i] as Map<string, number>, value, count);
  });
}

function addValue(counts: Map<string, number>, value: string, count: number): void {
  const known = counts.get(value);
  if (known !== undefined || counts.size <= mostValues) counts.set(value, (known ?? 0) + count);
}

/** What fills the holes of a shape. */
export function holeSummaries(skeleton: Skeleton, sample: string, values: HoleValues): readonly HoleSummary[] {
  const holes = piecesOf(skeleton, sample).flatMap((piece) => (piece.kind === 'hole' ? [piece] : []));
  return holes.map(({ name, type }, i) => {
    const counts = values[i] ?? new Map<string, number>();
    const range = rangeOf(counts.keys());
    return {
      name,
      type,
      distinct: Math.min(counts.size, mostValues),
      isMore: counts.size > mostValues,
      top: [...counts]
        .sort((a, b) => b[1] - a[1])
        .slice(0, mostShown)
        .map(([value, count]) => ({ value: value.slice(0, longestValue), count })),
      ...(range && { range }),
    };
  });
}

/** Numbers that may have a unit behind them, the same for all. */
const measured = /^([+-]?\d+(?:\.\d+)?)(?:[a-zµ%]{0,3})$/i;

function rangeOf(values: Iterable<string>): { readonly low: number; readonly high: number } | undefined {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (const value of values) {
    const number = Number(measured.exec(value)?.[1] ?? Number.NaN);
    if (Number.isNaN(number)) return undefined;
    low = Math.min(low, number);
    high = Math.max(high, number);
  }
  return low < high ? { low, high } : undefined;
}
