import {
  addToDistinct,
  type DistinctSketch,
  distinctCount,
  mergeDistinct,
  newDistinctSketch,
} from '../sketches/distinct.ts';
import { addGroups, type GroupedValues } from '../sketches/grouped-quantiles.ts';
import { mergeQuantiles, newQuantileSketch, type QuantileSketch, quantile } from '../sketches/quantiles.ts';
import type { Aggregate, AggregateFunction } from './summary.ts';

/** A value in a result. Times are milliseconds, durations seconds, sizes bytes. */
export type SummaryValue = number | string | boolean | null;

/** What has been gathered for one aggregate, an entry per group. Plain data, so that it can be sent between threads. */
export type AggregateState =
  | { readonly kind: 'sum'; values: Float64Array }
  | { readonly kind: 'mean'; sums: Float64Array; weights: Float64Array }
  | { readonly kind: 'least' | 'most'; values: Float64Array }
  | { readonly kind: 'quantiles'; readonly share: number; readonly sketches: (QuantileSketch | undefined)[] }
  | { readonly kind: 'distinct'; readonly sketches: (DistinctSketch | undefined)[] }
  | { readonly kind: 'first' | 'last'; times: Float64Array; readonly values: (SummaryValue | undefined)[] };

const shares: Partial<Record<AggregateFunction, number>> = {
  median: 0.5,
  p50: 0.5,
  p75: 0.75,
  p90: 0.9,
  p95: 0.95,
  p99: 0.99,
};

/** An empty state for an aggregate. */
export function newState(aggregate: Aggregate): AggregateState {
  switch (aggregate.function) {
    case 'count':
    case 'rate':
    case 'sum':
      return { kind: 'sum', values: new Float64Array(0) };
    case 'avg':
      return { kind: 'mean', sums: new Float64Array(0), weights: new Float64Array(0) };
    case 'min':
      return { kind: 'least', values: new Float64Array(0) };
    case 'max':
      return { kind: 'most', values: new Float64Array(0) };
    case 'distinct':
      return { kind: 'distinct', sketches: [] };
    case 'first':
    case 'last':
      return { kind: aggregate.function, times: new Float64Array(0), values: [] };
    default:
      return { kind: 'quantiles', share: shares[aggregate.function] ?? 0.5, sketches: [] };
  }
}

/** Makes room for `groups` groups. */
export function reserve(state: AggregateState, groups: number): void {
  switch (state.kind) {
    case 'sum':
      state.values = grown(state.values, groups, 0);
      break;
    case 'mean':
      state.sums = grown(state.sums, groups, 0);
      state.weights = grown(state.weights, groups, 0);
      break;
    case 'least':
    case 'most':
      state.values = grown(state.values, groups, Number.NaN);
      break;
    case 'first':
    case 'last':
      state.times = grown(state.times, groups, Number.NaN);
      break;
    default:
      break;
  }
}

function grown(from: Float64Array, length: number, fill: number): Float64Array {
  if (length <= from.length) return from;
  const to = new Float64Array(Math.max(length, from.length * 2)).fill(fill, from.length);
  to.set(from);
  return to;
}

/** Adds the values of rows to their groups. `NaN` values are absent. */
export function addNumbers(state: AggregateState, grouped: GroupedValues): void {
  const { groups, rows, values, weight } = grouped;
  switch (state.kind) {
    case 'sum':
      addSums(state.values, grouped);
      break;
    case 'mean':
      for (let i = 0; i < rows.length; i++) {
        const row = rows[i] as number;
        const value = values[row] as number;
        if (value !== value) continue;
        const group = groups[i] as number;
        state.sums[group] = (state.sums[group] as number) + value * (weight[row] as number);
        state.weights[group] = (state.weights[group] as number) + (weight[row] as number);
      }
      break;
    case 'least':
      for (let i = 0; i < rows.length; i++) {
        const value = values[rows[i] as number] as number;
        const group = groups[i] as number;
        if (value === value && !((state.values[group] as number) <= value)) state.values[group] = value;
      }
      break;
    case 'most':
      for (let i = 0; i < rows.length; i++) {
        const value = values[rows[i] as number] as number;
        const group = groups[i] as number;
        if (value === value && !((state.values[group] as number) >= value)) state.values[group] = value;
      }
      break;
    case 'quantiles':
      addGroups(state.sketches, grouped);
      break;
    default:
      break;
  }
}

/** Counts rows, by their groups, that stand for one event each. */
export function addOnes(state: AggregateState, groups: Int32Array): void {
  if (state.kind !== 'sum') return;
  const { values } = state;
  for (let i = 0; i < groups.length; i++) {
    const group = groups[i] as number;
    values[group] = (values[group] as number) + 1;
  }
}

function addSums(sums: Float64Array, { groups, rows, values, weight }: GroupedValues): void {
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const value = values[row] as number;
    if (value !== value) continue;
    const group = groups[i] as number;
    sums[group] = (sums[group] as number) + value * (weight[row] as number);
  }
}

/** Adds one value, by its hash, to a group's distinct count. */
export function addHash(state: AggregateState, group: number, hash: number): void {
  if (state.kind !== 'distinct') return;
  let sketch = state.sketches[group];
  if (!sketch) state.sketches[group] = sketch = newDistinctSketch();
  addToDistinct(sketch, hash);
}

/** Offers a value with its time as a group's first or last one. */
export function offer(state: AggregateState, group: number, time: number, value: () => SummaryValue | undefined): void {
  if (state.kind !== 'first' && state.kind !== 'last') return;
  const known = state.times[group] as number;
  if (known === known && (state.kind === 'first' ? known <= time : known > time)) return;
  const offered = value();
  if (offered === undefined) return;
  state.times[group] = time;
  state.values[group] = offered;
}

/** Adds group `from` of `other` to group `into` of `state`, which is of the same aggregate. */
export function mergeGroup(state: AggregateState, into: number, other: AggregateState, from: number): void {
  if (state.kind === 'sum' && other.kind === 'sum') {
    state.values[into] = (state.values[into] as number) + (other.values[from] as number);
  } else if (state.kind === 'mean' && other.kind === 'mean') {
    state.sums[into] = (state.sums[into] as number) + (other.sums[from] as number);
    state.weights[into] = (state.weights[into] as number) + (other.weights[from] as number);
  } else if (state.kind === 'least' && other.kind === 'least') {
    const value = other.values[from] as number;
    if (value === value && !((state.values[into] as number) <= value)) state.values[into] = value;
  } else if (state.kind === 'most' && other.kind === 'most') {
    const value = other.values[from] as number;
    if (value === value && !((state.values[into] as number) >= value)) state.values[into] = value;
  } else if (state.kind === 'quantiles' && other.kind === 'quantiles') {
    const sketch = other.sketches[from];
    if (sketch) mergeQuantiles((state.sketches[into] ??= newQuantileSketch()), sketch);
  } else if (state.kind === 'distinct' && other.kind === 'distinct') {
    const sketch = other.sketches[from];
    if (sketch) mergeDistinct((state.sketches[into] ??= newDistinctSketch()), sketch);
  } else if ('times' in state && 'times' in other) {
    const time = other.times[from] as number;
    if (time === time) offer(state, into, time, () => other.values[from]);
  }
}

/** The figure of a group; null when no event of the group had a value. `seconds` is the time a rate is taken over. */
export function figure(state: AggregateState, aggregate: Aggregate, group: number, seconds: number): SummaryValue {
  switch (state.kind) {
    case 'sum': {
      const value = state.values[group] ?? 0;
      return aggregate.function === 'rate' ? value / seconds : value;
    }
    case 'mean': {
      const weights = state.weights[group] ?? 0;
      return weights > 0 ? (state.sums[group] as number) / weights : null;
    }
    case 'least':
    case 'most':
      return present(state.values[group] ?? Number.NaN);
    case 'quantiles': {
      const sketch = state.sketches[group];
      return sketch ? present(quantile(sketch, state.share)) : null;
    }
    case 'distinct': {
      const sketch = state.sketches[group];
      return sketch ? distinctCount(sketch) : 0;
    }
    default:
      return state.values[group] ?? null;
  }
}

function present(value: number): number | null {
  return value === value ? value : null;
}
