import { csvCell, csvLine } from '../tables/csv.ts';
import type { Cells, ExportRows } from './cells.ts';
import { type ExportColumn, exportColumns } from './columns.ts';
import { type ExportFields, type ExportFormat, joinTexts } from './export-format.ts';
import { encodedTexts, TextWriter } from './text-writer.ts';

/** A line for each event (RFC 4180), a column for each attribute; times as ISO 8601. */
export const csv: ExportFormat = {
  name: 'csv',
  title: 'CSV',
  type: 'text/csv',
  ending: 'csv',
  joiner: async (fields) => joinTexts(`${csvLine(exportColumns(fields).map(({ name }) => name))}\r\n`),
  piece: async (events, fields) => ({ data: linesOf(events, fields) }),
};

/** Adds the n-th cell of a column, and the commas before it. */
type CellWriter = (writer: TextWriter, n: number) => void;

function linesOf(events: ExportRows, fields: ExportFields): Uint8Array {
  const cellWriters: CellWriter[] = [];
  // Of columns that no event has a value in, only the commas are left.
  let commas = '';
  for (const [place, column] of exportColumns(fields).entries()) {
    if (place > 0) commas += ',';
    const cells = column.cells(events);
    if (!cells) continue;
    cellWriters.push(cellWriter(column, cells, commas));
    commas = '';
  }
  const writer = new TextWriter();
  for (let n = 0; n < events.rows.length; n++) {
    for (const write of cellWriters) write(writer, n);
    writer.addPlain(commas);
    writer.addPlain('\r\n');
  }
  return writer.take();
}

function cellWriter({ kind }: ExportColumn, cells: Cells, commas: string): CellWriter {
  if ('values' in cells && kind === 'time') {
    const { values } = cells;
    return (writer, n) => {
      writer.addPlain(commas);
      writer.addTime(Number(values[n]));
    };
  }
  if ('values' in cells) {
    const { values, at } = cells;
    const texts = encodedTexts(values.map((value) => commas + csvCell(value)));
    return (writer, n) => writer.addEncoded(texts, at ? (at[n] as number) : n);
  }
  const { codes, table } = cells;
  const { bytes, offsets } = table;
  return (writer, n) => {
    writer.addPlain(commas);
    const code = codes[n] as number;
    if (code >= 0) writer.addCsv(bytes, offsets[code] as number, offsets[code + 1] as number);
  };
}
