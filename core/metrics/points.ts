import { type AggregateState, mergeGroup, newState, reserve } from '../summaries/aggregate-states.ts';
import type { Aggregate } from '../summaries/summary.ts';

/**
 * What was gathered for a series, or for several, in places: those of a chunk are its steps of time, those of a group of
 * events are minutes of series. A place where nothing came is not filled.
 */
export interface Points {
  /** An entry for each aggregate of the measure. */
  readonly states: readonly AggregateState[];
  /** 1 where something came. */
  filled: Uint8Array;
}

/** So many empty places. */
export function newPoints(aggregates: readonly Aggregate[], places: number): Points {
  const states = aggregates.map((aggregate) => newState(aggregate));
  for (const state of states) reserve(state, places);
  return { states, filled: new Uint8Array(places) };
}

/** Makes room for `places` places. */
export function reservePoints(points: Points, places: number): void {
  if (places <= points.filled.length) return;
  const filled = new Uint8Array(Math.max(places, points.filled.length * 2));
  filled.set(points.filled);
  points.filled = filled;
  for (const state of points.states) reserve(state, places);
}

/** Adds place `from` of `other`, which is of the same aggregates, to place `into`. */
export function mergePoint(points: Points, into: number, other: Points, from: number): void {
  for (const [i, state] of points.states.entries()) mergeGroup(state, into, other.states[i] as AggregateState, from);
  points.filled[into] = 1;
}

/** The first `places` places in order, those that are filled. */
export function filledPlaces({ filled }: Points, places = filled.length): readonly number[] {
  const list: number[] = [];
  for (let place = 0; place < places; place++) if (filled[place] === 1) list.push(place);
  return list;
}

/**
 * Adds the first `places` places of `other` that are filled, each to the place that `into` gives; those of which it gives
 * none (below 0, or from `most` on) are left out.
 */
export function mergePoints(
  points: Points,
  most: number,
  other: Points,
  places: number,
  into: (place: number) => number,
): void {
  const targets = new Int32Array(places).fill(-1);
  for (let place = 0; place < places; place++) {
    if (other.filled[place] === 0) continue;
    const target = into(place);
    if (target < 0 || target >= most) continue;
    targets[place] = target;
    points.filled[target] = 1;
  }
  for (const [k, state] of points.states.entries()) {
    const added = other.states[k] as AggregateState;
    if (state.kind === 'sum' && added.kind === 'sum') addSums(state.values, added.values, targets);
    else
      for (let place = 0; place < places; place++) {
        const target = targets[place] as number;
        if (target >= 0) mergeGroup(state, target, added, place);
      }
  }
}

function addSums(sums: Float64Array, added: Float64Array, targets: Int32Array): void {
  for (let place = 0; place < targets.length; place++) {
    const target = targets[place] as number;
    if (target >= 0) sums[target] = (sums[target] as number) + (added[place] as number);
  }
}
