import type { ColumnChunk, RowGroup, SchemaElement } from 'hyparquet';
import type { StoredEvent } from '../search/found-event.ts';
import { type ExportColumn, exportColumns } from './columns.ts';
import type { ExportField, ExportFormat } from './export-format.ts';

/** Bytes of the mark with which a file begins. */
const markLength = 4;

const types: Readonly<Record<ExportColumn['kind'], Omit<SchemaElement, 'name'>>> = {
  time: { type: 'INT64', converted_type: 'TIMESTAMP_MILLIS' },
  number: { type: 'DOUBLE' },
  flag: { type: 'BOOLEAN' },
  text: { type: 'BYTE_ARRAY', converted_type: 'UTF8' },
  mixed: { type: 'BYTE_ARRAY', converted_type: 'UTF8' },
};

function schemaOf(columns: readonly ExportColumn[]): SchemaElement[] {
  const root: SchemaElement = { name: 'events', num_children: columns.length };
  return [root, ...columns.map(({ name, kind }) => ({ name, repetition_type: 'OPTIONAL' as const, ...types[kind] }))];
}

/** The values of a column as its type has them: numbers are texts where values are mixed, and what is of another kind is absent. */
function valuesOf({ kind, value }: ExportColumn, events: readonly StoredEvent[]): unknown[] {
  const wanted = kind === 'flag' ? 'boolean' : 'number';
  return events.map((event) => {
    const given = value(event);
    if (kind === 'text' || kind === 'mixed') return given === undefined ? undefined : String(given);
    if (typeof given !== wanted) return undefined;
    return kind === 'time' ? BigInt(Math.floor(Number(given))) : given;
  });
}

/** A writer of its own; what it writes first is the mark. */
async function newWriter(fields: readonly ExportField[]) {
  const { ByteWriter, ParquetWriter } = await import('hyparquet-writer');
  const bytes = new ByteWriter();
  const columns = exportColumns(fields);
  const writer = new ParquetWriter({ writer: bytes, schema: schemaOf(columns), createdBy: 'Restless Otter' });
  return { bytes, columns, writer };
}

/** The same row group where it lies so many bytes further on. */
function movedBy(group: RowGroup, by: bigint): RowGroup {
  const moved = (chunk: ColumnChunk): ColumnChunk => {
    const { meta_data: data } = chunk;
    const pages = data && {
      ...data,
      data_page_offset: data.data_page_offset + by,
      ...(data.dictionary_page_offset !== undefined && { dictionary_page_offset: data.dictionary_page_offset + by }),
    };
    return { ...chunk, file_offset: chunk.file_offset + by, ...(pages && { meta_data: pages }) };
  };
  return { ...group, columns: group.columns.map(moved) };
}

/**
 * A Parquet file (Apache Parquet): a column for each attribute, a row group for each piece, Snappy. Threads write row groups
 * by themselves; where these came to lie stands at the end.
 */
export const parquet: ExportFormat = {
  name: 'parquet',
  title: 'Parquet',
  type: 'application/vnd.apache.parquet',
  ending: 'parquet',
  piece: async (events, fields) => {
    if (events.length === 0) return { data: new Uint8Array(0) };
    const { bytes, columns, writer } = await newWriter(fields);
    const columnData = columns.map((column) => ({
      name: column.name,
      data: valuesOf(column, events),
      offsetIndex: false,
    }));
    writer.write({ columnData, rowGroupSize: events.length });
    const rowGroups = writer.row_groups.map((group) => movedBy(group, BigInt(-markLength)));
    return { data: bytes.getBytes().slice(markLength), rowGroups };
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
