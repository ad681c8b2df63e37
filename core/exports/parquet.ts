import type { ColumnChunk, ColumnMetaData, RowGroup, SchemaElement } from 'hyparquet';
import type { ColumnSource } from 'hyparquet-writer';
import type { Cell, Cells } from './cells.ts';
import { type ExportColumn, exportColumns } from './columns.ts';
import type { ExportFields, ExportFormat } from './export-format.ts';

/** Bytes of the mark with which a file begins. */
const markLength = 4;

type ColumnType = Omit<SchemaElement, 'name'> & { readonly type: NonNullable<SchemaElement['type']> };

const types: Readonly<Record<ExportColumn['kind'], ColumnType>> = {
  time: { type: 'INT64', converted_type: 'TIMESTAMP_MILLIS' },
  number: { type: 'DOUBLE' },
  flag: { type: 'BOOLEAN' },
  text: { type: 'BYTE_ARRAY', converted_type: 'UTF8' },
  mixed: { type: 'BYTE_ARRAY', converted_type: 'UTF8' },
};

const mostOf32Bits = 2 ** 31 - 1;

/** The Parquet type of a column; integers are INT32 if their range fits, otherwise INT64. */
function typeOf({ kind, whole }: ExportColumn): ColumnType {
  if (kind !== 'number' || !whole) return types[kind];
  return { type: whole.low < -mostOf32Bits || whole.high > mostOf32Bits ? 'INT64' : 'INT32' };
}

function schemaOf(columns: readonly ExportColumn[]): SchemaElement[] {
  const root: SchemaElement = { name: 'events', num_children: columns.length };
  return [
    root,
    ...columns.map((column) => ({ name: column.name, repetition_type: 'OPTIONAL' as const, ...typeOf(column) })),
  ];
}

/**
 * The values of a column as its type has them: numbers are texts where values are mixed, and what is of another kind is absent. Texts that
 * are stored as bytes stay bytes.
 */
function valuesOf(column: ExportColumn, cells: Cells): unknown[] {
  if ('table' in cells) {
    const { table, codes } = cells;
    const { bytes, offsets } = table;
    return Array.from(codes, (code) =>
      code < 0 ? undefined : bytes.subarray(offsets[code] as number, offsets[code + 1] as number),
    );
  }
  const { kind } = column;
  const is64Bits = typeOf(column).type === 'INT64';
  if ('numbers' in cells)
    return Array.from(cells.numbers, (value) => (Number.isNaN(value) ? undefined : typedValue(kind, value, is64Bits)));
  const typed = cells.values.map((value) => typedValue(kind, value, is64Bits));
  return cells.at ? Array.from(cells.at, (place) => typed[place]) : typed;
}

function typedValue(kind: ExportColumn['kind'], value: Cell, is64Bits: boolean): unknown {
  if (value === undefined) return undefined;
  if (kind === 'text' || kind === 'mixed') return String(value);
  if (typeof value !== (kind === 'flag' ? 'boolean' : 'number')) return undefined;
  return is64Bits ? BigInt(Math.floor(Number(value))) : value;
}

/** Columns by whose range nobody leaves row groups out. */
const unranged: ReadonlySet<string> = new Set(['received', 'weight', 'raw_bytes']);

/** A column for the library. Only numbers and times get a range; times, and texts that nearly all differ, need no dictionary. */
function sourceOf(column: ExportColumn, cells: Cells): ColumnSource {
  const { name, kind } = column;
  const isRanged = (kind === 'time' || kind === 'number') && !unranged.has(name);
  const plain = (kind === 'time' || 'table' in cells) && { encoding: 'PLAIN' as const };
  return { name, data: valuesOf(column, cells), offsetIndex: false, statistics: isRanged, ...plain };
}

/** A writer of its own; what it writes first is the mark. */
async function newWriter(fields: ExportFields) {
  const { ByteWriter, ParquetWriter } = await import('hyparquet-writer');
  const bytes = new ByteWriter();
  const columns = exportColumns(fields);
  const writer = new ParquetWriter({ writer: bytes, schema: schemaOf(columns), createdBy: 'Restless Otter' });
  return { bytes, columns, writer };
}

/** A column chunk as it is in the bytes of a piece, so many bytes further on. */
function chunkMovedBy(chunk: ColumnChunk, by: bigint): ColumnChunk {
  const { meta_data: data } = chunk;
  const pages = data && {
    ...data,
    data_page_offset: data.data_page_offset + by,
    ...(data.dictionary_page_offset !== undefined && { dictionary_page_offset: data.dictionary_page_offset + by }),
  };
  return { ...chunk, file_offset: chunk.file_offset + by, ...(pages && { meta_data: pages }) };
}

/** The same row group where it is so many bytes further on. */
function movedBy(group: RowGroup, by: bigint): RowGroup {
  return { ...group, columns: group.columns.map((chunk) => chunkMovedBy(chunk, by)) };
}

/** A chunk that says of so many events that they have no value: the same for each column but for its name and type. */
interface EmptyChunk {
  readonly bytes: Uint8Array;
  readonly chunk: ColumnChunk;
}

const emptyChunks = new Map<number, EmptyChunk>();
/** Most of them that are remembered: most pieces are of the same length. */
const mostEmptyChunks = 100;

async function emptyChunk(rows: number): Promise<EmptyChunk> {
  const known = emptyChunks.get(rows);
  if (known) return known;
  const { ByteWriter, ParquetWriter } = await import('hyparquet-writer');
  const bytes = new ByteWriter();
  const columns: readonly ExportColumn[] = [{ name: 'none', kind: 'text', cells: () => undefined }];
  const writer = new ParquetWriter({ writer: bytes, schema: schemaOf(columns) });
  const data = new Array(rows).fill(undefined);
  writer.write({ columnData: [{ name: 'none', data, offsetIndex: false, statistics: false }], rowGroupSize: rows });
  const chunk = writer.row_groups[0]?.columns[0];
  if (!chunk) throw new Error('The library that writes Parquet has changed: it wrote no column.');
  const made = { bytes: bytes.getBytes().slice(markLength), chunk: chunkMovedBy(chunk, BigInt(-markLength)) };
  if (emptyChunks.size >= mostEmptyChunks) emptyChunks.clear();
  emptyChunks.set(rows, made);
  return made;
}

/**
 * A Parquet file (Apache Parquet): a column for each attribute, a row group for each piece, Snappy. Threads write row groups
 * by themselves; where these came to lie is at the end.
 */
export const parquet: ExportFormat = {
  name: 'parquet',
  title: 'Parquet',
  type: 'application/vnd.apache.parquet',
  ending: 'parquet',
  piece: async (events, fields) => {
    const rows = events.rows.length;
    if (rows === 0) return { data: new Uint8Array(0) };
    const { bytes, columns, writer } = await newWriter(fields);
    const found = columns.map((column) => ({ column, cells: column.cells(events) }));
    const columnData = found.flatMap(({ column, cells }) => (cells ? [sourceOf(column, cells)] : []));
    writer.write({ columnData, rowGroupSize: rows });
    const [group] = writer.row_groups;
    if (!group) throw new Error('The library that writes Parquet has changed: it wrote no row group.');
    const written = bytes.getBytes().subarray(markLength);
    const empty = await emptyChunk(rows);
    const data = new Uint8Array(written.length + (found.length - columnData.length) * empty.bytes.length);
    data.set(written);
    let end = written.length;
    let next = 0;
    const chunks = found.map(({ column, cells }): ColumnChunk => {
      if (cells) return chunkMovedBy(group.columns[next++] as ColumnChunk, BigInt(-markLength));
      const chunk = chunkMovedBy(empty.chunk, BigInt(end));
      data.set(empty.bytes, end);
      end += empty.bytes.length;
      const { type } = typeOf(column);
      return {
        ...chunk,
        ...(chunk.meta_data && { meta_data: { ...chunk.meta_data, type, path_in_schema: [column.name] } }),
      };
    });
    const sum = (of: (data: ColumnMetaData) => bigint): bigint =>
      chunks.reduce((all, { meta_data }) => all + (meta_data ? of(meta_data) : 0n), 0n);
    const whole = {
      columns: chunks,
      num_rows: group.num_rows,
      total_byte_size: sum((of) => of.total_uncompressed_size),
      total_compressed_size: sum((of) => of.total_compressed_size),
    };
    return { data, rowGroups: [whole] };
  },
  joiner: async (fields) => {
    const { bytes, writer } = await newWriter(fields);
    let position = markLength;
    return {
      head: () => bytes.getBytes().slice(),
      add: ({ data, rowGroups = [] }) => {
        for (const group of rowGroups) {
          writer.row_groups.push(movedBy(group, BigInt(position)));
          writer.num_rows += group.num_rows;
        }
        position += data.length;
        return data;
      },
      tail: () => {
        writer.finish();
        return bytes.getBytes().slice(markLength);
      },
    };
  },
};
