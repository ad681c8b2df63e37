import type { SummaryValue } from './aggregate-states.ts';
import type { SummaryTable } from './summary-table.ts';

/** A summary as CSV with a first line of names (RFC 4180); times in milliseconds since 1970, durations in seconds, sizes in bytes. */
export function summaryCsv({ columns, rows }: SummaryTable): string {
  return [columns.map(({ name }) => name), ...rows].map((row) => row.map(quoted).join(',')).join('\r\n');
}

function quoted(value: SummaryValue): string {
  const text = String(value ?? '');
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
