import { csvLine } from '../tables/csv.ts';
import { exportColumns } from './columns.ts';
import { type ExportFormat, joinTexts } from './export-format.ts';

/** A line for each event (RFC 4180), a column for each attribute; times as ISO 8601. */
export const csv: ExportFormat = {
  name: 'csv',
  title: 'CSV',
  type: 'text/csv',
  ending: 'csv',
  joiner: async (fields) => joinTexts(`${csvLine(exportColumns(fields).map(({ name }) => name))}\r\n`),
  piece: async (events, fields) => {
    const columns = exportColumns(fields);
    const lines = events.map((event) => {
      const values = columns.map(({ kind, value }) => {
        const given = value(event);
        return kind === 'time' && typeof given === 'number' ? new Date(given).toISOString() : given;
      });
      return `${csvLine(values)}\r\n`;
    });
    return { data: lines.join('') };
  },
};
