/** A value of a table as it is written out. */
export type CsvValue = string | number | boolean | null | undefined;

/** Rows as CSV (RFC 4180), the names of the columns first. */
export function writeCsv(columns: readonly string[], rows: readonly (readonly CsvValue[])[]): string {
  return [columns, ...rows].map(csvLine).join('\r\n');
}

/** One row as a line of CSV, without the end of the line. */
export function csvLine(row: readonly CsvValue[]): string {
  return row.map(csvCell).join(',');
}

/** A value as it is between commas. Texts that a spreadsheet would take for a formula get an apostrophe before them. */
export function csvCell(value: CsvValue): string {
  const plain = String(value ?? '');
  const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(plain) ? `'${plain}` : plain;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
