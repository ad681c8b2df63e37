import { median } from '../sketches/exact-quantile.ts';
import type { Cause, Explanation } from './causes.ts';
import type { Measure } from './measure.ts';

/** Exact amounts by group of events and period: each cause without the events of those before it, at last all other events. */
export interface CountedSums {
  /** By group, then by period (0: since the change). */
  readonly amounts: readonly (readonly Float64Array[])[];
}

/** Empty sums for some causes and earlier periods. */
export function newCountedSums(causes: number, before: number, width: number): CountedSums {
  const periods = (): readonly Float64Array[] => Array.from({ length: before + 1 }, () => new Float64Array(width));
  return { amounts: Array.from({ length: causes + 1 }, periods) };
}

/** Adds other sums over the same causes and periods. */
export function addCountedSums(sums: CountedSums, other: CountedSums): void {
  for (const [group, periods] of sums.amounts.entries()) {
    for (const [period, into] of periods.entries()) add(into, other.amounts[group]?.[period]);
  }
}

function add(into: Float64Array, values: Float64Array | undefined): void {
  values?.forEach((value, i) => {
    into[i] = (into[i] as number) + value;
  });
}

/** Amounts of some events, for periods of equal length. */
interface Sides {
  readonly before: Float64Array;
  readonly since: Float64Array;
}

/**
 * An explanation whose figures are counted instead of estimated from a sample. `longer`: how many times as long as an earlier period the
 * one since the change is.
 */
export function withCounts(
  explanation: Explanation,
  { amounts }: CountedSums,
  measure: Measure,
  longer: number,
): Explanation {
  const { figure, width } = measure;
  const total = (list: readonly (Float64Array | undefined)[]): Float64Array => {
    const sum = new Float64Array(width);
    for (const one of list) add(sum, one);
    return sum;
  };
  const scaled = (sums: Float64Array, times: number): Float64Array => sums.map((sum) => sum * times);
  const periods = (amounts[0]?.length ?? 1) - 1;
  const sides = (groups: CountedSums['amounts']): Sides => ({
    since: total(groups.map(([since]) => since)),
    before: scaled(total(groups.flatMap(([, ...before]) => before)), longer / periods),
  });
  const moved = ({ since, before }: Sides): number => figure(since) - figure(before);
  const all = sides(amounts);
  const change = moved(all);
  const usual = Array.from({ length: periods }, (_, i) =>
    figure(scaled(total(amounts.map((group) => group[i + 1])), longer)),
  ).filter((value) => !Number.isNaN(value));
  const causes = explanation.causes.map((cause, i): Cause => {
    const own = sides(amounts.slice(i, i + 1));
    const left = sides(amounts.slice(i));
    const without = figure(left.since.map((sum, k) => sum - (own.since[k] as number) + (own.before[k] as number)));
    const share = (figure(left.since) - without) / change;
    return {
      ...cause,
      ...{ before: figureOrNull(figure(own.before)), since: figureOrNull(figure(own.since)) },
      ...{ share: Number.isNaN(share) ? 0 : share, band: 0, without },
    };
  });
  const rest = moved(sides(amounts.slice(causes.length))) / change;
  return {
    ...explanation,
    since: figure(all.since),
    before: usual.length > 0 ? median(usual) : explanation.before,
    causes,
    rest: Number.isNaN(rest) ? 0 : rest,
  };
}

function figureOrNull(figure: number): number | null {
  return Number.isNaN(figure) ? null : figure;
}
