import type { EventBatch } from '../events/batch.ts';
import type { TextColumn } from '../events/columns.ts';
import { readNumber } from '../events/numbers.ts';
import { textAt } from '../events/text-table.ts';
import { type Arrivals, arrivalsOf } from './arrivals.ts';

/** What a batch tells about one emitter, or (with an empty name) about its source as a whole. Plain data. */
export interface Observation {
  readonly emitter: string;
  readonly arrivals: Arrivals;
  readonly bytes: number;
  readonly parsed: number;
  /** Sum and extremes of arrival minus the event's own time, in milliseconds; below 0 the sender's clock is ahead. */
  readonly latenessSum: number;
  readonly latenessLeast: number;
  readonly latenessMost: number;
  /** Numbers missing in the sequence, and events whose number had been there before. */
  readonly gaps: number;
  readonly duplicates: number;
  /** The first and last number of the sequence; NaN where the format has none. */
  readonly firstNumber: number;
  readonly lastNumber: number;
  /** Texts that all its events in the batch share, by attribute: what it may have in common with others. */
  readonly traits: readonly (readonly [string, string])[];
}

/** The attribute with the number of a message in its sender's sequence (RFC 5424, 7.3.1). */
const sequenceAttribute = 'meta.sequenceId';

/** An attribute with more different texts than this in a batch is no trait. */
const mostTraitValues = 60;
/** Most traits of an emitter, and the longest text that is one. */
export const mostTraits = 12;
const longestTrait = 64;

/** The rows of a batch in an order, with their times of arrival in the same order. */
interface OrderedRows {
  readonly rows: Int32Array;
  readonly times: Float64Array;
}

/** What a batch of raw events, before any pipeline, tells about its source (first) and about each of its emitters. */
export function observe(batch: EventBatch, withTraits: boolean): readonly Observation[] {
  if (batch.rows === 0) return [];
  const { codes, table } = batch.emitter;
  const all = rowsInOrder(batch);
  const { rows, starts } = groupByCode(all, codes, table.count);
  const grouped = withTimes(batch, rows);
  const traits = withTraits && rows.length > 0 ? traitColumns(batch) : [];
  const list = [observationOf(batch, '', { rows: withTimes(batch, all), from: 0, to: all.length, traits: [] })];
  for (let code = 0; code < table.count; code++) {
    const [from, to] = [starts[code] as number, starts[code + 1] as number];
    if (from < to) list.push(observationOf(batch, textAt(table, code), { rows: grouped, from, to, traits }));
  }
  return list;
}

/** Rows by code, in their order within each: those of a code stand from `starts[code]` to before `starts[code + 1]`. */
function groupByCode(
  order: Int32Array,
  codes: Int32Array,
  count: number,
): { readonly rows: Int32Array; readonly starts: Int32Array } {
  const starts = new Int32Array(count + 2);
  for (const row of order) {
    const place = (codes[row] as number) + 2;
    if (place > 1) starts[place] = (starts[place] as number) + 1;
  }
  for (let i = 2; i < starts.length; i++) starts[i] = (starts[i] as number) + (starts[i - 1] as number);
  const rows = new Int32Array(starts[count + 1] as number);
  for (const row of order) {
    const place = (codes[row] as number) + 1;
    if (place === 0) continue;
    const at = starts[place] as number;
    rows[at] = row;
    starts[place] = at + 1;
  }
  return { rows, starts };
}

function withTimes({ received }: EventBatch, rows: Int32Array): OrderedRows {
  const times = new Float64Array(rows.length);
  for (let i = 0; i < rows.length; i++) times[i] = received[rows[i] as number] as number;
  return { rows, times };
}

/** Row numbers in the order of arrival; live batches arrived at once and are in order already. */
function rowsInOrder({ received, rows }: EventBatch): Int32Array {
  const order = new Int32Array(rows);
  for (let row = 1; row < rows; row++) order[row] = row;
  for (let row = 1; row < rows; row++) {
    if ((received[row] as number) < (received[row - 1] as number))
      return order.sort((a, b) => (received[a] as number) - (received[b] as number));
  }
  return order;
}

/** The rows of an emitter: those at the places `from` to before `to`. */
interface RowsOfEmitter {
  readonly rows: OrderedRows;
  readonly from: number;
  readonly to: number;
  readonly traits: readonly (readonly [string, TextColumn])[];
}

function observationOf(
  batch: EventBatch,
  emitter: string,
  { rows: { rows, times }, from, to, traits }: RowsOfEmitter,
): Observation {
  const { time, size, parsed } = batch;
  let bytes = 0;
  let parsedEvents = 0;
  let latenessSum = 0;
  let latenessLeast = Number.POSITIVE_INFINITY;
  let latenessMost = Number.NEGATIVE_INFINITY;
  for (let i = from; i < to; i++) {
    const row = rows[i] as number;
    bytes += size[row] as number;
    parsedEvents += parsed[row] as number;
    const lateness = (times[i] as number) - (time[row] as number);
    latenessSum += lateness;
    latenessLeast = Math.min(latenessLeast, lateness);
    latenessMost = Math.max(latenessMost, lateness);
  }
  const { gaps, duplicates, firstNumber, lastNumber } = emitter === '' ? noSequence : sequenceOf(batch, rows, from, to);
  return {
    emitter,
    arrivals: arrivalsOf(times, from, to),
    bytes,
    parsed: parsedEvents,
    latenessSum,
    latenessLeast,
    latenessMost,
    gaps,
    duplicates,
    firstNumber,
    lastNumber,
    traits: traitsOf(rows, from, to, traits),
  };
}

const noSequence = { gaps: 0, duplicates: 0, firstNumber: Number.NaN, lastNumber: Number.NaN };

function sequenceOf(batch: EventBatch, rows: Int32Array, from: number, to: number): typeof noSequence {
  const columns = batch.attributes.get(sequenceAttribute);
  if (!columns) return noSequence;
  let gaps = 0;
  let duplicates = 0;
  let first = Number.NaN;
  let last = Number.NaN;
  for (let i = from; i < to; i++) {
    const row = rows[i] as number;
    const code = columns.text?.codes[row] ?? -1;
    let value = columns.number?.values[row] ?? Number.NaN;
    if (columns.text && code >= 0) {
      const { bytes, offsets } = columns.text.table;
      value = readNumber(bytes, offsets[code] as number, offsets[code + 1] as number);
    }
    if (value !== value) continue;
    if (first !== first) first = value;
    else if (value > last + 1) gaps += value - last - 1;
    else if (value <= last) duplicates++;
    last = value;
  }
  return { gaps, duplicates, firstNumber: first, lastNumber: last };
}

/** Text attributes with few different values. */
function traitColumns(batch: EventBatch): readonly (readonly [string, TextColumn])[] {
  const columns: (readonly [string, TextColumn])[] = [];
  for (const [name, { text }] of batch.attributes) {
    if (text?.unique && text.table.count <= mostTraitValues) columns.push([name, text]);
  }
  return columns;
}

function traitsOf(
  rows: Int32Array,
  from: number,
  to: number,
  columns: readonly (readonly [string, TextColumn])[],
): readonly (readonly [string, string])[] {
  const traits: (readonly [string, string])[] = [];
  for (const [name, { codes, table }] of columns) {
    const code = codes[rows[from] as number] as number;
    if (code < 0 || (table.offsets[code + 1] as number) - (table.offsets[code] as number) > longestTrait) continue;
    let same = true;
    for (let i = from + 1; i < to && same; i++) same = codes[rows[i] as number] === code;
    if (same) traits.push([name, textAt(table, code)]);
  }
  return traits;
}
