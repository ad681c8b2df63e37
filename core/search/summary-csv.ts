import type { SummaryValue } from './aggregate-states.ts';
import type { SummaryTable } from './summary-table.ts';

/** A summary as CSV with a first line of names (RFC 4180); times in milliseconds since 1970, durations in seconds, sizes in bytes. */
export function summaryCsv({ columns, rows }: SummaryTable): string {
  return [columns.map(({ name }) => name), ...rows].map((row) => row.map(quoted).join(',')).join('\r\n');
}

/** Texts that a spreadsheet would take for a formula get an apostrophe before them. */
function quoted(value: SummaryValue): string {
  const plain = String(value ?? '');
  const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(plain) ? `'${plain}` : plain;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
