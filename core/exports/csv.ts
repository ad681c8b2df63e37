import { severityWord } from '../events/severity.ts';
import { csvLine } from '../tables/csv.ts';
import type { ExportFormat } from './export-format.ts';

const columns = ['time', 'received', 'source', 'emitter', 'tier', 'severity', 'weight', 'raw_bytes', 'body'];

/** A line for each event (RFC 4180), a column for each attribute. */
export const csv: ExportFormat = {
  name: 'csv',
  title: 'CSV',
  type: 'text/csv',
  ending: 'csv',
  head: (fields) => `${csvLine([...columns, ...fields])}\r\n`,
  events: (events, fields) =>
    events
      .map(({ time, received, source, emitter, tier, severity, weight, size, body, attributes }) => {
        const when = [new Date(time).toISOString(), new Date(received).toISOString()];
        const values = fields.map((field) => attributes[field]);
        return `${csvLine([...when, source, emitter, tier, severityWord(severity), weight, size || '', body, ...values])}\r\n`;
      })
      .join(''),
};
