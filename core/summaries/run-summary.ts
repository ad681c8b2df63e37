import type { EventBatch } from '../events/batch.ts';
import type { Unit } from '../events/units.ts';
import { type AggregateState, mergeGroup, newState, reserve } from './aggregate-states.ts';
import { gatherAggregate } from './gather-aggregate.ts';
import { groupRows } from './group-rows.ts';
import { columnsFor, type KeyValue } from './key-codes.ts';
import type { Aggregate, Summary } from './summary.ts';

/** Most groups that a summary keeps; further ones are counted and left out. */
export const maxGroups = 50_000;

/** What a group is: its time bucket (milliseconds; 0 without buckets) and the values of its keys. */
interface GroupKey {
  readonly bucket: number;
  readonly values: readonly KeyValue[];
}

/** What a summary has gathered so far. Plain data; two of the same summary can be merged. */
export interface SummaryPartial {
  readonly groups: Map<string, number>;
  readonly keys: GroupKey[];
  readonly states: AggregateState[];
  /** The unit of each aggregate's field, as far as it has been seen. */
  readonly units: Unit[];
  /** Groups that could not be kept. */
  leftOut: number;
}

export function newSummaryPartial(summary: Summary): SummaryPartial {
  return {
    groups: new Map(),
    keys: [],
    states: summary.aggregates.map(newState),
    units: summary.aggregates.map(() => 'none'),
    leftOut: 0,
  };
}

/** Adds the chosen rows of a batch. */
export function addToSummary(
  partial: SummaryPartial,
  summary: Summary,
  batch: EventBatch,
  rows: Int32Array,
  tier: string,
): void {
  if (rows.length === 0) return;
  const local = groupRows(batch, rows, { by: summary.by, every: summary.every, tier });
  const places = placesOf(partial, local.keys);
  summary.aggregates.forEach((aggregate, index) => {
    const whole = partial.states[index] as AggregateState;
    reserve(whole, partial.keys.length);
    const state = stateFor(whole, aggregate, places);
    gatherAggregate(state, aggregate, batch, { rows, groups: local.groups, count: places.length });
    takeBack(whole, places, state);
    const unit = aggregate.field ? columnsFor(batch, aggregate.field)?.number?.unit : undefined;
    if (unit && unit !== 'none') partial.units[index] = unit;
  });
}

/** A state for the groups of one batch; sketches, which take long to be merged, are those of the whole. */
function stateFor(whole: AggregateState, aggregate: Aggregate, places: readonly number[]): AggregateState {
  if (whole.kind === 'quantiles') return { ...whole, sketches: places.map((place) => whole.sketches[place]) };
  const state = newState(aggregate);
  reserve(state, places.length);
  return state;
}

/** Puts what was gathered for the groups of one batch into the whole. */
function takeBack(whole: AggregateState, places: readonly number[], state: AggregateState): void {
  places.forEach((place, from) => {
    if (place < 0) return;
    if (whole.kind !== 'quantiles' || state.kind !== 'quantiles') mergeGroup(whole, place, state, from);
    else whole.sketches[place] = state.sketches[from];
  });
}

/** Adds all of `other` to `partial`. */
export function mergeSummary(partial: SummaryPartial, other: SummaryPartial): void {
  mergeGroups(partial, other.keys, other.states);
  partial.leftOut += other.leftOut;
  other.units.forEach((unit, index) => {
    if (unit !== 'none') partial.units[index] = unit;
  });
}

/** The place of each group in the whole, where it is made when it is not there; −1 for one that there is no room for. */
function placesOf(partial: SummaryPartial, keys: readonly GroupKey[]): readonly number[] {
  return keys.map((key) => {
    const id = JSON.stringify([key.bucket, ...key.values]);
    let group = partial.groups.get(id);
    if (group === undefined) {
      if (partial.keys.length >= maxGroups) {
        partial.leftOut++;
        return -1;
      }
      group = partial.keys.push(key) - 1;
      partial.groups.set(id, group);
    }
    return group;
  });
}

function mergeGroups(partial: SummaryPartial, keys: readonly GroupKey[], states: readonly AggregateState[]): void {
  const places = placesOf(partial, keys);
  partial.states.forEach((state, index) => {
    reserve(state, partial.keys.length);
    const other = states[index] as AggregateState;
    places.forEach((group, from) => {
      if (group >= 0) mergeGroup(state, group, other, from);
    });
  });
}
