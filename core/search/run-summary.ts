import type { EventBatch } from '../events/batch.ts';
import { valueAt } from '../events/columns.ts';
import { hashBytes } from '../events/text-table.ts';
import type { Unit } from '../events/units.ts';
import type { GroupedValues } from '../sketches/grouped-quantiles.ts';
import {
  type AggregateState,
  addHash,
  addNumbers,
  addOnes,
  mergeGroup,
  newState,
  offer,
  reserve,
} from './aggregate-states.ts';
import { columnsFor, groupRows, type KeyValue } from './group-rows.ts';
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

let ones = new Float64Array(0);

/** A column of ones, to count with. */
function onesOf(rows: number): Float64Array {
  if (rows > ones.length) ones = new Float64Array(Math.max(rows, ones.length * 2)).fill(1);
  return ones.subarray(0, rows);
}

/** Rows and their groups: `groups[i]` is that of row `rows[i]`, from 0 up to, not including, `count`. */
type Grouped = Pick<GroupedValues, 'rows' | 'groups' | 'count'>;

function gatherAggregate(state: AggregateState, aggregate: Aggregate, batch: EventBatch, grouped: Grouped): void {
  const { rows, groups } = grouped;
  const add = (values: Float64Array): void =>
    addNumbers(state, { ...grouped, values, weight: batch.weight, unweighted: batch.unweighted });
  if (aggregate.field === undefined && batch.unweighted) addOnes(state, groups);
  else if (aggregate.field === undefined) add(onesOf(batch.rows));
  else if (state.kind === 'distinct') gatherDistinct(state, aggregate.field, batch, rows, groups);
  else if (state.kind === 'first' || state.kind === 'last') gatherEdge(state, aggregate.field, batch, rows, groups);
  else if (aggregate.function === 'count' || aggregate.function === 'rate') add(presence(batch, aggregate.field));
  else {
    const values = numbersOf(batch, aggregate.field);
    if (values) add(values);
  }
}

/** 1 where an event has the field, NaN where it lacks it. */
function presence(batch: EventBatch, field: string): Float64Array {
  const columns = columnsFor(batch, field);
  const values = new Float64Array(batch.rows).fill(Number.NaN);
  if (!columns) return values;
  for (let row = 0; row < values.length; row++) if (valueAt(columns, row) !== undefined) values[row] = 1;
  return values;
}

/** The numbers of a field; texts that read as numbers count too. */
function numbersOf(batch: EventBatch, field: string): Float64Array | undefined {
  if (field.toLowerCase() === 'severity') return Float64Array.from(batch.severity);
  const columns = columnsFor(batch, field);
  if (!columns?.text) return columns?.number?.values;
  const { number } = columns;
  return Float64Array.from({ length: batch.rows }, (_, row) => {
    const value = number?.values[row] ?? Number.NaN;
    if (value === value) return value;
    const text = valueAt({ text: columns.text as NonNullable<typeof columns.text> }, row);
    const read = typeof text === 'string' && text.trim() !== '' ? Number(text) : Number.NaN;
    return Number.isFinite(read) ? read : Number.NaN;
  });
}

function gatherDistinct(
  state: AggregateState,
  field: string,
  batch: EventBatch,
  rows: Int32Array,
  groups: Int32Array,
): void {
  const columns = columnsFor(batch, field);
  const { text, number } = columns ?? {};
  const hashes = text && new Int32Array(text.table.count);
  if (text && hashes) {
    const { bytes, offsets } = text.table;
    for (let code = 0; code < hashes.length; code++) {
      hashes[code] = hashBytes(bytes, offsets[code] as number, offsets[code + 1] as number);
    }
  }
  const bits = new Float64Array(1);
  const words = new Int32Array(bits.buffer);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const code = text?.codes[row] ?? -1;
    if (code >= 0 && hashes) addHash(state, groups[i] as number, hashes[code] as number);
    const value = number?.values[row] ?? Number.NaN;
    if (value !== value) continue;
    bits[0] = value;
    addHash(state, groups[i] as number, Math.imul(words[0] as number, 0x9e3779b1) ^ (words[1] as number));
  }
}

function gatherEdge(
  state: AggregateState,
  field: string,
  batch: EventBatch,
  rows: Int32Array,
  groups: Int32Array,
): void {
  const columns = columnsFor(batch, field);
  if (!columns) return;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    offer(state, groups[i] as number, batch.time[row] as number, () => valueAt(columns, row));
  }
}
