import type { Sums } from './sums.ts';

/** Number of groups; each is left out once. */
export const jackknifeGroups = 10;

/** Sums without one group, scaled up to the full size. */
export function lessGroup(all: Sums, group: Sums): Sums {
  const scale = jackknifeGroups / (jackknifeGroups - 1);
  const less = (a: Float64Array, b: Float64Array): Float64Array =>
    a.map((value, i) => (value - (b[i] as number)) * scale);
  return {
    before: less(all.before, group.before),
    since: less(all.since, group.since),
    eventsBefore: (all.eventsBefore - group.eventsBefore) * scale,
    eventsSince: (all.eventsSince - group.eventsSince) * scale,
    rowsBefore: all.rowsBefore - group.rowsBefore,
    rowsSince: all.rowsSince - group.rowsSince,
  };
}

/** The standard error of a figure, from its values with each group left out (B. Efron and C. Stein 1981). */
export function jackknifed(figures: readonly number[]): number {
  const mean = figures.reduce((sum, figure) => sum + figure, 0) / figures.length;
  const squares = figures.reduce((sum, figure) => sum + (figure - mean) ** 2, 0);
  return Math.sqrt((squares * (figures.length - 1)) / figures.length);
}
