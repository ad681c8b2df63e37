import { quantile } from '../../sketches/quantiles.ts';
import type { AggregateState } from '../../summaries/aggregate-states.ts';
import type { MeasureFigure } from './measure.ts';

/** The sum at a place of the aggregate at an index; 0 where there is none. */
export function sumOf(states: readonly AggregateState[], index: number, place: number): number {
  const state = states[index];
  return state?.kind === 'sum' ? (state.values[place] ?? 0) : 0;
}

/** The least or greatest at a place of the aggregate at an index; null where there is none. */
export function edgeOf(states: readonly AggregateState[], index: number, place: number): number | null {
  const state = states[index];
  const value = state?.kind === 'least' || state?.kind === 'most' ? state.values[place] : undefined;
  return value === undefined || Number.isNaN(value) ? null : value;
}

/** How many values a histogram, the first aggregate, holds at a place. */
export function totalOf([state]: readonly AggregateState[], place: number): number {
  return state?.kind === 'quantiles' ? (state.sketches[place]?.total ?? 0) : 0;
}

/** The mean of so many values with a sum; null of none. */
export function meanOf(sum: number, count: number): number | null {
  return count > 0 ? sum / count : null;
}

/** How many events came, of the first aggregate. */
export const countFigure: MeasureFigure = { name: 'count', of: (states, place) => sumOf(states, 0, place) };

/** The mean, by the places of sum and count among the aggregates. */
export function meanFigure(sum: number, count: number): MeasureFigure {
  return { name: 'mean', of: (states, place) => meanOf(sumOf(states, sum, place), sumOf(states, count, place)) };
}

/** A percentile of a histogram, the first aggregate. */
export function quantileFigure(name: string, share: number): MeasureFigure {
  return {
    name,
    of: ([state], place) => {
      const sketch = state?.kind === 'quantiles' ? state.sketches[place] : undefined;
      return sketch && sketch.total > 0 ? quantile(sketch, share) : null;
    },
  };
}
