import {
  type Data,
  type DataType,
  Dictionary,
  Field,
  Float32,
  Float64,
  Int8,
  Int16,
  Int32,
  makeData,
  RecordBatch,
  RecordBatchReader,
  RecordBatchStreamWriter,
  Schema,
  Struct,
  Uint8,
  Uint16,
  Uint32,
  Utf8,
  Vector,
} from 'apache-arrow';
import { type FlagColumn, missingCode, type NumberColumn, type TextColumn } from '../events/columns.ts';
import { countUp } from '../events/select.ts';
import type { TextTable } from '../events/text-table.ts';
import type { Unit } from '../events/units.ts';
import { type NarrowValues, narrowed, widened } from './narrow-numbers.ts';

/** A column as it is written into a part. */
export type PartColumn =
  | { readonly kind: 'time'; readonly values: Float64Array }
  | { readonly kind: 'small'; readonly values: Uint8Array }
  | { readonly kind: 'weight'; readonly values: Float32Array }
  | { readonly kind: 'body'; readonly table: TextTable }
  | ({ readonly kind: 'number' } & NumberColumn)
  | ({ readonly kind: 'text' } & TextColumn)
  | ({ readonly kind: 'flag' } & FlagColumn);

interface ArrowColumn {
  readonly data: Data;
  readonly metadata: ReadonlyMap<string, string>;
}

/**
 * Writes columns of the same length as one Arrow IPC stream (Apache Arrow columnar format, IPC streaming). Each field's
 * metadata says what kind of column it is. Times are written as the differences between neighbouring rows, from the
 * first time on, which is in the metadata.
 */
export function encodePart(columns: ReadonlyMap<string, PartColumn>, rows: number): Uint8Array {
  const fields: Field[] = [];
  const children: Data[] = [];
  for (const [name, column] of columns) {
    const { data, metadata } = toArrow(column, rows, children.length);
    fields.push(new Field(name, data.type, true, new Map([...metadata, ['kind', column.kind]])));
    children.push(data);
  }
  const batch = new RecordBatch(
    new Schema(fields),
    makeData({ type: new Struct(fields), length: rows, nullCount: 0, children }),
  );
  return RecordBatchStreamWriter.writeAll([batch]).toUint8Array(true);
}

/** Reads what {@link encodePart} wrote. */
export function decodePart(bytes: Uint8Array): ReadonlyMap<string, PartColumn> {
  const columns = new Map<string, PartColumn>();
  for (const batch of RecordBatchReader.from(bytes)) {
    batch.schema.fields.forEach((field, index) => {
      const data = batch.data.children[index];
      if (data) columns.set(field.name, fromArrow(data, field.metadata));
    });
  }
  return columns;
}

function toArrow(column: PartColumn, rows: number, id: number): ArrowColumn {
  switch (column.kind) {
    case 'time':
      return timesToArrow(column.values);
    case 'small':
      return plain(makeData({ type: new Uint8(), length: rows, nullCount: 0, data: column.values }));
    case 'weight':
      return plain(makeData({ type: new Float32(), length: rows, nullCount: 0, data: column.values }));
    case 'flag':
      return plain(makeData({ type: new Uint8(), length: rows, nullCount: 0, data: column.values }));
    case 'number':
      return numbersToArrow(column);
    case 'body':
      return plain(utf8(column.table, rows));
    case 'text':
      return plain(textToArrow(column, rows, id));
  }
}

function plain(data: Data): ArrowColumn {
  return { data, metadata: new Map() };
}

/** Whether whole milliseconds can be written as times: each less than 24 days from its neighbour. */
export function fitsAsTime(values: Float64Array): boolean {
  for (let row = 1; row < values.length; row++) {
    const difference = (values[row] as number) - (values[row - 1] as number);
    if ((difference | 0) !== difference) return false;
  }
  return true;
}

/** Differences of more than 24 days between neighbours do not fit; segments span a day at most. */
function timesToArrow(values: Float64Array): ArrowColumn {
  const differences = new Int32Array(values.length);
  const base = Math.floor(values[0] ?? 0);
  let before = base;
  for (let row = 0; row < values.length; row++) {
    const time = Math.floor(values[row] as number);
    differences[row] = time - before;
    before = time;
  }
  const data = makeData({ type: new Int32(), length: values.length, nullCount: 0, data: differences });
  return { data, metadata: new Map([['base', String(base)]]) };
}

/** A validity bitmap with a bit for every row that `has` a value; undefined when all rows have one. */
function validity(rows: number, has: (row: number) => boolean): { bitmap: Uint8Array | undefined; missing: number } {
  const bitmap = new Uint8Array((rows + 7) >> 3);
  let missing = 0;
  for (let row = 0; row < rows; row++) {
    if (has(row)) bitmap[row >> 3] = (bitmap[row >> 3] as number) | (1 << (row & 7));
    else missing++;
  }
  return { bitmap: missing > 0 ? bitmap : undefined, missing };
}

/** Numbers as whole numbers where that is exact; `scale` is what these were multiplied with. */
function numbersToArrow({ values, unit }: NumberColumn): ArrowColumn {
  const rows = values.length;
  const { bitmap, missing } = validity(rows, (row) => values[row] === values[row]);
  const shared = { length: rows, nullCount: missing, nullBitmap: bitmap };
  const { values: narrow, scale } = narrowed(values);
  const metadata = new Map([['unit', unit as string], ...(scale === 1 ? [] : [['scale', String(scale)] as const])]);
  if (narrow instanceof Int8Array) return { data: makeData({ ...shared, type: new Int8(), data: narrow }), metadata };
  if (narrow instanceof Int16Array) return { data: makeData({ ...shared, type: new Int16(), data: narrow }), metadata };
  if (narrow instanceof Int32Array) return { data: makeData({ ...shared, type: new Int32(), data: narrow }), metadata };
  return { data: makeData({ ...shared, type: new Float64(), data: narrow }), metadata };
}

function textToArrow(column: TextColumn, rows: number, id: number): Data {
  const { codes, table } = column;
  if (!column.unique || (table.count > rows / 2 && rows > 1024)) return utf8(table, rows, codes);
  const { bitmap, missing } = validity(rows, (row) => (codes[row] as number) >= 0);
  const dictionary = new Vector([utf8(table, table.count)]);
  const shared = { length: rows, nullCount: missing, ...(bitmap && { nullBitmap: bitmap }), dictionary };
  const text = new Utf8();
  if (table.count <= 256) {
    return makeData({
      ...shared,
      type: new Dictionary(text, new Uint8(), id),
      data: indices(codes, new Uint8Array(rows)),
    });
  }
  if (table.count <= 65_536) {
    return makeData({
      ...shared,
      type: new Dictionary(text, new Uint16(), id),
      data: indices(codes, new Uint16Array(rows)),
    });
  }
  return makeData({
    ...shared,
    type: new Dictionary(text, new Uint32(), id),
    data: indices(codes, new Uint32Array(rows)),
  });
}

function indices<T extends Uint8Array | Uint16Array | Uint32Array>(codes: Int32Array, out: T): T {
  for (let row = 0; row < codes.length; row++) out[row] = Math.max(0, codes[row] as number);
  return out;
}

/** A table as Arrow UTF-8, one text a row. With `codes`, text `codes[row]` in each row, none where it is negative. */
function utf8(table: TextTable, rows: number, codes?: Int32Array): Data<Utf8> {
  if (!codes) {
    const base = table.offsets[0] as number;
    const offsets = base === 0 ? table.offsets : table.offsets.map((offset) => offset - base);
    const bytes = table.bytes.subarray(base, table.offsets[table.count]);
    return makeData({ type: new Utf8(), length: rows, nullCount: 0, data: bytes, valueOffsets: asInt32(offsets) });
  }
  const { bitmap, missing } = validity(rows, (row) => (codes[row] as number) >= 0);
  const offsets = new Int32Array(rows + 1);
  for (let row = 0; row < rows; row++) {
    const code = codes[row] as number;
    const length = code < 0 ? 0 : (table.offsets[code + 1] as number) - (table.offsets[code] as number);
    offsets[row + 1] = (offsets[row] as number) + length;
  }
  const bytes = isInOrder(table, codes)
    ? table.bytes.subarray(table.offsets[0], table.offsets[table.count])
    : copied(table, codes, offsets);
  return makeData({
    type: new Utf8(),
    length: rows,
    nullCount: missing,
    nullBitmap: bitmap,
    data: bytes,
    valueOffsets: offsets,
  });
}

/** Whether the texts of the rows, one after the other, are the texts of the table. */
function isInOrder({ count }: TextTable, codes: Int32Array): boolean {
  let next = 0;
  for (let row = 0; row < codes.length; row++) {
    const code = codes[row] as number;
    if (code < 0) continue;
    if (code !== next) return false;
    next++;
  }
  return next === count;
}

/** The texts of the rows, one after the other: that of row `i` from `offsets[i]` on. */
function copied(table: TextTable, codes: Int32Array, offsets: Int32Array): Uint8Array {
  const bytes = new Uint8Array(offsets[codes.length] as number);
  for (let row = 0; row < codes.length; row++) {
    const code = codes[row] as number;
    if (code < 0) continue;
    const start = table.offsets[code] as number;
    const end = table.offsets[code + 1] as number;
    bytes.set(table.bytes.subarray(start, end), offsets[row] as number);
  }
  return bytes;
}

function asInt32(offsets: Uint32Array): Int32Array {
  return new Int32Array(offsets.buffer, offsets.byteOffset, offsets.length);
}

function isMissing(data: Data, row: number): boolean {
  return data.nullCount > 0 && ((data.nullBitmap[row >> 3] as number) & (1 << (row & 7))) === 0;
}

function fromArrow(data: Data<DataType>, metadata: ReadonlyMap<string, string>): PartColumn {
  const rows = data.length;
  switch (metadata.get('kind')) {
    case 'time':
      return { kind: 'time', values: timesFromArrow(data, Number(metadata.get('base'))) };
    case 'small':
      return { kind: 'small', values: data.values as Uint8Array };
    case 'weight':
      return { kind: 'weight', values: data.values as Float32Array };
    case 'flag':
      return { kind: 'flag', values: data.values as Uint8Array };
    case 'number': {
      const values = widened(data.values as NarrowValues, Number(metadata.get('scale') ?? 1));
      if (data.nullCount > 0) for (let row = 0; row < rows; row++) if (isMissing(data, row)) values[row] = Number.NaN;
      return { kind: 'number', values: values.subarray(0, rows), unit: (metadata.get('unit') ?? 'none') as Unit };
    }
    case 'body':
      return { kind: 'body', table: tableFromArrow(data) };
    case 'text':
      return { kind: 'text', ...textFromArrow(data) };
    default:
      throw new Error(`unknown kind of column: ${metadata.get('kind')}`);
  }
}

function timesFromArrow(data: Data, base: number): Float64Array {
  const differences = data.values as Int32Array;
  const values = new Float64Array(data.length);
  let time = base;
  for (let row = 0; row < values.length; row++) {
    time += differences[row] as number;
    values[row] = time;
  }
  return values;
}

function tableFromArrow(data: Data): TextTable {
  const offsets = data.valueOffsets as Int32Array;
  return {
    bytes: data.values as Uint8Array,
    offsets: new Uint32Array(offsets.buffer, offsets.byteOffset, data.length + 1),
    count: data.length,
  };
}

function textFromArrow(data: Data): TextColumn {
  const dictionary = data.dictionary?.data[0];
  const codes = dictionary ? new Int32Array(data.values.subarray(0, data.length)) : countUp(data.length);
  if (data.nullCount > 0) {
    for (let row = 0; row < codes.length; row++) if (isMissing(data, row)) codes[row] = missingCode;
  }
  return { codes, table: tableFromArrow(dictionary ?? data), unique: dictionary !== undefined };
}
