import { writeCsv } from '../tables/csv.ts';
import type { SummaryTable } from './summary-table.ts';

/** A summary as CSV with a first line of names (RFC 4180); times in milliseconds since 1970, durations in seconds, sizes in bytes. */
export function summaryCsv({ columns, rows }: SummaryTable): string {
  return writeCsv(
    columns.map(({ name }) => name),
    rows,
  );
}
