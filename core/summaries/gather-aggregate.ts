import type { EventBatch } from '../events/batch.ts';
import { valueAt } from '../events/columns.ts';
import { hashBytes } from '../events/text-table.ts';
import type { GroupedValues } from '../sketches/grouped-quantiles.ts';
import { type AggregateState, addHash, addNumbers, addOnes, offer } from './aggregate-states.ts';
import { columnsFor } from './key-codes.ts';
import type { Aggregate } from './summary.ts';

let ones = new Float64Array(0);

/** A column of ones, to count with. */
function onesOf(rows: number): Float64Array {
  if (rows > ones.length) ones = new Float64Array(Math.max(rows, ones.length * 2)).fill(1);
  return ones.subarray(0, rows);
}

/** Rows and their groups: `groups[i]` is that of row `rows[i]`, from 0 up to, not including, `count`. */
type Grouped = Pick<GroupedValues, 'rows' | 'groups' | 'count'>;

/** Adds the rows of a batch to the state of an aggregate, each to its group. */
export function gatherAggregate(
  state: AggregateState,
  aggregate: Aggregate,
  batch: EventBatch,
  grouped: Grouped,
): void {
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

/** The numbers of a field by row, NaN where there is none; texts that read as numbers count too. Undefined where no event has the field. */
export function numbersOf(batch: EventBatch, field: string): Float64Array | undefined {
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
