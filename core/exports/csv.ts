import { csvCell, csvLine } from '../tables/csv.ts';
import type { ExportRows } from './cells.ts';
import { exportColumns } from './columns.ts';
import { type ExportFields, type ExportFormat, joinTexts } from './export-format.ts';
import type { CellForm } from './written-column.ts';
import { WrittenRows } from './written-rows.ts';

/** A line for each event (RFC 4180), a column for each attribute; times as ISO 8601. */
export const csv: ExportFormat = {
  name: 'csv',
  title: 'CSV',
  type: 'text/csv',
  ending: 'csv',
  joiner: async (fields) => joinTexts(`${csvLine(exportColumns(fields).map(({ name }) => name))}\r\n`),
  piece: async (events, fields) => ({ data: linesOf(events, fields) }),
};

const form: CellForm = {
  value: csvCell,
  text: (writer, bytes, start, end) => writer.addCsv(bytes, start, end),
};

function linesOf(events: ExportRows, fields: ExportFields): Uint8Array {
  const lines = new WrittenRows(events.rows.length, form);
  // Of columns that no event has a value in, only the commas are left.
  let commas = '';
  for (const [place, { kind, cells: cellsOf }] of exportColumns(fields).entries()) {
    if (place > 0) commas += ',';
    const cells = cellsOf(events);
    if (!cells) continue;
    if (kind === 'time' && 'numbers' in cells) lines.addTimes(cells.numbers, { before: commas });
    else lines.addCells(cells, { before: commas, absent: commas });
    commas = '';
  }
  lines.addText(`${commas}\r\n`);
  return lines.bytes();
}
