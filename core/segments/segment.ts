import type { EventBatch } from '../events/batch.ts';
import type { AttributeColumns, TextColumn } from '../events/columns.ts';
import { rawSizes } from '../events/raw-sizes.ts';
import { gather, rowsByTime } from '../events/select.ts';
import { decode, emptyTextTable, encode, type TextTable } from '../events/text-table.ts';
import { encodeHeader } from './header.ts';
import { decodePart, encodePart, fitsAsTime, type PartColumn } from './part.ts';
import { numberParts } from './part-numbers.ts';
import { type ColumnStatistics, type SegmentStatistics, statisticsOf } from './statistics.ts';
import { filterOfNumbers, filterOfTexts, filterOfWords, type ValueFilter } from './value-filter.ts';

/** Most events in one segment. */
export const maxSegmentEvents = 65_536;

/** A piece of a segment that is stored and read on its own. */
export interface SegmentPart {
  /** The column it holds, {@link wholePart}, or that of a filter ({@link filterName}). */
  readonly name: string;
  /** Arrow IPC, or the bits of a filter; not yet compressed. */
  readonly data: Uint8Array;
}

/** Name of the part that holds all columns of a small segment together. */
export const wholePart = '*';

/** What is known of a segment without opening it. Times in milliseconds, `to` inclusive. */
export interface SegmentFacts {
  readonly events: number;
  /** Arrived events that the segment stands for. */
  readonly weight: number;
  /** Their bytes as they arrived. */
  readonly bytes: number;
  readonly from: number;
  readonly to: number;
}

export interface EncodedSegment {
  readonly facts: SegmentFacts;
  /** The columns. */
  readonly parts: readonly SegmentPart[];
  /** Which values columns have, where these are many; none for a segment that is one part. */
  readonly filters: readonly SegmentPart[];
  /** Which parts there are, filters among them, and what is known of the events (see `header.ts`); not yet compressed. */
  readonly header: Uint8Array;
}

/** A segment with its packed parts, ready to be stored. */
export interface NewSegment {
  readonly tier: string;
  readonly source: string;
  /** Start of the day (passing tier: hour) that all its events belong to, in milliseconds. */
  readonly slot: number;
  /** The revision of the plan that made it. */
  readonly revision: number;
  readonly facts: SegmentFacts;
  readonly parts: readonly SegmentPart[];
  /** Packed like the parts; absent where no more is known than their names. */
  readonly header?: Uint8Array;
}

/** How a segment is laid out: all columns in one part (for small segments), or one part a column. */
export type SegmentLayout = 'whole' | 'columns';

/** Encodes a batch, sorted by time. */
export function encodeSegment(batch: EventBatch, layout: SegmentLayout): EncodedSegment {
  const rows = rowsByTime(batch);
  const sorted = gather(batch.source, [{ batch, rows }]);
  const columns = columnsOf(sorted);
  const parts =
    layout === 'whole'
      ? [{ name: wholePart, data: encodePart(columns, sorted.rows) }]
      : [...columns].map(([name, column]) => ({ name, data: encodePart(new Map([[name, column]]), sorted.rows) }));
  const statistics = statisticsOf(sorted, columns);
  const filters = layout === 'whole' ? [] : filtersOf(columns, statistics);
  const header = encodeHeader({ parts: numberParts([...parts, ...filters].map(({ name }) => name)), statistics });
  return { facts: factsOf(sorted), parts, filters, header };
}

/** The name of the part that holds the filter of a column. */
export function filterName(column: string): string {
  return `${filterPrefix}${column}`;
}

const filterPrefix = 'filter:';

/** Columns of numbers that are asked for by their range, if at all, and ids of shapes, which change while their events stay. */
const unfiltered: ReadonlySet<string> = new Set(['size', 'received', 'shape']);

/** Fewest different whole numbers between which a filter tells. */
const numbersWorthFiltering = 256;

function filtersOf(
  columns: ReadonlyMap<string, PartColumn>,
  { columns: known }: SegmentStatistics,
): readonly SegmentPart[] {
  return [...columns].flatMap(([name, column]) => {
    const data = unfiltered.has(name) ? undefined : filterOf(column, known.get(name));
    return data ? [{ name: filterName(name), data }] : [];
  });
}

/** A filter of what a column has, where that is much. */
function filterOf(column: PartColumn, { texts, range }: Partial<ColumnStatistics> = {}): ValueFilter | undefined {
  if (column.kind === 'body') return filterOfWords(column.table);
  if (column.kind === 'text' && !texts) return filterOfTexts(column);
  if (column.kind === 'number' && range && range.high - range.low >= numbersWorthFiltering)
    return filterOfNumbers(column.values);
  return undefined;
}

function factsOf(batch: EventBatch): SegmentFacts {
  let weight = 0;
  let bytes = 0;
  for (let row = 0; row < batch.rows; row++) {
    weight += batch.weight[row] as number;
    bytes += (batch.weight[row] as number) * (batch.size[row] as number);
  }
  const from = Math.floor(batch.time[0] ?? 0);
  return { events: batch.rows, weight, bytes, from, to: Math.floor(batch.time[batch.rows - 1] ?? from) };
}

/** Names of the columns: those that every event has stand for themselves, attributes have their kind before them. */
function columnsOf(batch: EventBatch): ReadonlyMap<string, PartColumn> {
  const columns = new Map<string, PartColumn>();
  columns.set('time', { kind: 'time', values: batch.time });
  const received = receivedOf(batch);
  if (received) columns.set('received', received);
  const sizes = sizesOf(batch);
  if (sizes) columns.set('size', { kind: 'number', values: sizes, unit: 'size' });
  columns.set('severity', { kind: 'small', values: batch.severity });
  if (batch.weight.some((weight) => weight !== 1)) columns.set('weight', { kind: 'weight', values: batch.weight });
  if (batch.emitter.table.count > 0) columns.set('emitter', { kind: 'text', ...batch.emitter });
  if (batch.shape && batch.shape.table.count > 0) columns.set('shape', { kind: 'text', ...batch.shape });
  if ((batch.body.offsets[batch.body.count] as number) > 0) columns.set('body', { kind: 'body', table: batch.body });
  for (const [given, { number, text, flag }] of batch.attributes) {
    // A name that steps made may hold what is no Unicode; it has to read as it was written.
    const bytes = encode(given);
    const name = decode(bytes, 0, bytes.length);
    if (number) columns.set(`number:${name}`, { kind: 'number', ...number });
    if (text) columns.set(`text:${name}`, { kind: 'text', ...text });
    if (flag) columns.set(`flag:${name}`, { kind: 'flag', ...flag });
  }
  return columns;
}

/** When the events arrived, in whole milliseconds; undefined where all arrived as they happened. */
function receivedOf({ rows, time, received }: EventBatch): PartColumn | undefined {
  const values = new Float64Array(rows);
  let isLate = false;
  for (let row = 0; row < rows; row++) {
    const at = Math.floor(received[row] as number);
    if (at !== Math.floor(time[row] as number)) isLate = true;
    values[row] = at;
  }
  if (!isLate) return undefined;
  return fitsAsTime(values) ? { kind: 'time', values } : { kind: 'number', values, unit: 'none' };
}

/** Bytes of the records as they arrived, `NaN` where that is not known; undefined where it is known of none. */
function sizesOf({ rows, size }: EventBatch): Float64Array | undefined {
  const values = rawSizes(size);
  for (let row = 0; row < rows; row++) if ((size[row] as number) > 0) return values;
  return undefined;
}

/** Which columns of a segment someone wants to read. */
export interface WantedColumns {
  /** Attribute names, compared without regard to case; `all` for every one. */
  readonly attributes: ReadonlySet<string> | 'all';
  /** With `all`: names to skip, in lower case. */
  readonly leftOut?: ReadonlySet<string>;
  readonly body: boolean;
  readonly emitter: boolean;
  readonly shape: boolean;
  readonly received: boolean;
  readonly size: boolean;
  readonly time: boolean;
  readonly severity: boolean;
}

/** Everything. */
export const allColumns: WantedColumns = {
  attributes: 'all',
  body: true,
  emitter: true,
  shape: true,
  received: true,
  size: true,
  time: true,
  severity: true,
};

/** Whether a column, by its name in the segment, is among the wanted ones. */
export function isWanted(column: string, wanted: WantedColumns): boolean {
  if (column === 'weight' || column === wholePart) return true;
  if (column.startsWith(filterPrefix)) return false;
  if (column === 'time') return wanted.time;
  if (column === 'severity') return wanted.severity;
  if (column === 'body') return wanted.body;
  if (column === 'emitter') return wanted.emitter;
  if (column === 'shape') return wanted.shape;
  if (column === 'received' || column === 'delay') return wanted.received;
  if (column === 'size') return wanted.size;
  const name = column.slice(column.indexOf(':') + 1).toLowerCase();
  return wanted.attributes === 'all' ? !wanted.leftOut?.has(name) : wanted.attributes.has(name);
}

/** A batch from decoded columns; what was not read is absent or empty. */
export function batchFromColumns(source: string, rows: number, columns: ReadonlyMap<string, PartColumn>): EventBatch {
  const blank = blanksOf(rows);
  const times = columns.get('time');
  const time = times?.kind === 'time' ? times.values : blank.time;
  const size = columns.get('size');
  const attributes = new Map<string, AttributeColumns>();
  for (const [key, column] of columns) {
    const colon = key.indexOf(':');
    if (colon < 0) continue;
    const name = key.slice(colon + 1);
    const before = attributes.get(name);
    if (column.kind === 'number') attributes.set(name, { ...before, number: column });
    if (column.kind === 'text') attributes.set(name, { ...before, text: column });
    if (column.kind === 'flag') attributes.set(name, { ...before, flag: column });
  }
  const emitter = columns.get('emitter');
  const shape = columns.get('shape');
  const body = columns.get('body');
  const severity = columns.get('severity');
  const weight = columns.get('weight');
  return {
    rows,
    source,
    time,
    received: receivedFrom(columns, time),
    severity: severity?.kind === 'small' ? severity.values : blank.severity,
    weight: weight?.kind === 'weight' ? weight.values : blank.weight,
    unweighted: weight === undefined,
    size: size?.kind === 'number' ? new Uint32Array(size.values) : blank.size,
    parsed: blank.parsed,
    emitter: emitter?.kind === 'text' ? emitter : blank.emitter,
    body: body?.kind === 'body' ? body.table : blank.body,
    ...(shape?.kind === 'text' && { shape }),
    attributes,
  };
}

/** When events arrived; segments of earlier versions tell how much later than they happened (`delay`). */
function receivedFrom(columns: ReadonlyMap<string, PartColumn>, time: Float64Array): Float64Array {
  const received = columns.get('received');
  if (received?.kind === 'time' || received?.kind === 'number') return received.values;
  const delay = columns.get('delay');
  return delay?.kind === 'number' ? time.map((value, row) => value + (delay.values[row] as number)) : time;
}

/** What is in a batch for the columns that were not read. */
interface Blanks {
  readonly time: Float64Array;
  readonly severity: Uint8Array;
  readonly weight: Float32Array;
  readonly size: Uint32Array;
  readonly parsed: Uint8Array;
  readonly emitter: TextColumn;
  readonly body: TextTable;
}

const noBytes = new Uint8Array(0);

/** Batches are never changed, so all share their blanks; these grow with the longest. */
let blanks = blanksFor(0);

function blanksFor(rows: number): Blanks {
  return {
    time: new Float64Array(rows),
    severity: new Uint8Array(rows),
    weight: new Float32Array(rows).fill(1),
    size: new Uint32Array(rows),
    parsed: new Uint8Array(rows).fill(1),
    emitter: { codes: new Int32Array(rows).fill(-1), table: emptyTextTable, unique: true },
    body: { bytes: noBytes, offsets: new Uint32Array(rows + 1), count: rows },
  };
}

function blanksOf(rows: number): Blanks {
  if (rows > blanks.time.length) blanks = blanksFor(Math.max(rows, blanks.time.length * 2));
  return {
    time: blanks.time.subarray(0, rows),
    severity: blanks.severity.subarray(0, rows),
    weight: blanks.weight.subarray(0, rows),
    size: blanks.size.subarray(0, rows),
    parsed: blanks.parsed.subarray(0, rows),
    emitter: { ...blanks.emitter, codes: blanks.emitter.codes.subarray(0, rows) },
    body: { bytes: noBytes, offsets: blanks.body.offsets.subarray(0, rows + 1), count: rows },
  };
}

/** Names that wanted columns most likely have; attributes whose names are written in another case are not among them. */
export function likelyNames(wanted: WantedColumns): readonly string[] {
  const fixed = [
    'time',
    'severity',
    'weight',
    'emitter',
    'shape',
    'body',
    'received',
    'delay',
    'size',
    wholePart,
  ].filter((name) => isWanted(name, wanted));
  if (wanted.attributes === 'all') return fixed;
  return [...fixed, ...[...wanted.attributes].flatMap((name) => [`number:${name}`, `text:${name}`, `flag:${name}`])];
}

/** Decodes parts that have been inflated. */
export function decodeSegment(source: string, rows: number, parts: readonly Uint8Array[]): EventBatch {
  const columns = new Map<string, PartColumn>();
  for (const part of parts) for (const [name, column] of decodePart(part)) columns.set(name, column);
  return batchFromColumns(source, rows, columns);
}
