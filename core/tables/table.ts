import { parseCsv } from '../formats/csv.ts';

/** Longest table, in bytes of CSV, and most rows. */
export const maxTableBytes = 4_000_000;
export const maxTableRows = 100_000;

/** A table that steps look values up in: by the first column, in any case. */
export interface LookupTable {
  readonly columns: readonly string[];
  /** The row whose first column is `key`; undefined when there is none. */
  readonly find: (key: string) => readonly string[] | undefined;
  readonly rows: number;
}

export type ParsedTable =
  | { readonly ok: true; readonly table: LookupTable }
  | { readonly ok: false; readonly message: string };

/** Reads a table from CSV (RFC 4180) whose first line names the columns. A key that comes twice counts as it came first. */
export function parseTable(csv: string): ParsedTable {
  if (csv.length > maxTableBytes) return fault(`the table is longer than ${maxTableBytes / 1e6} MB`);
  const [columns, ...rows] = parseCsv(csv);
  if (!columns || columns.length < 2) return fault('a table needs a first line with at least two column names');
  if (columns.some((name) => name.trim() === '')) return fault('a column has no name');
  if (rows.length > maxTableRows) return fault(`the table has more than ${maxTableRows.toLocaleString('en')} rows`);
  const byKey = new Map<string, readonly string[]>();
  for (const [index, row] of rows.entries()) {
    if (row.length !== columns.length) {
      return fault(`line ${index + 2} has ${row.length} values instead of ${columns.length}`);
    }
    const key = (row[0] as string).toLowerCase();
    if (!byKey.has(key)) byKey.set(key, row);
  }
  const names = columns.map((name) => name.trim());
  return {
    ok: true,
    table: { columns: names, rows: rows.length, find: (key) => byKey.get(key.toLowerCase()) },
  };
}

/** The name of a table that comes as a file: `Ports 2026.csv` gives `ports-2026`. */
export function tableName(fileName: string): string {
  return fileName
    .replace(/\.csv$/i, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 63);
}

function fault(message: string): ParsedTable {
  return { ok: false, message };
}
