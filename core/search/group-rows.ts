import type { EventBatch } from '../events/batch.ts';
import type { AttributeColumns } from '../events/columns.ts';
import { severityWord } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';

/** The value of a grouping key: text, or null for events without it. */
export type KeyValue = string | null;

/** A key's value of each row, as small numbers; 0 stands for none. */
interface KeyCodes {
  readonly codes: (row: number) => number;
  readonly count: number;
  readonly value: (code: number) => KeyValue;
}

/** The groups of some rows. */
export interface RowGroups {
  /** For each chosen row its group. */
  readonly groups: Int32Array;
  /** For each group the values of its keys, and its time bucket (milliseconds; 0 without buckets). */
  readonly keys: readonly { readonly bucket: number; readonly values: readonly KeyValue[] }[];
}

/** The columns of an attribute by its name in any case; built-in text fields look like attributes. */
export function columnsFor(batch: EventBatch, name: string): AttributeColumns | undefined {
  const wanted = name.toLowerCase();
  if (wanted === 'emitter') return { text: batch.emitter };
  if (wanted === 'time') return { number: { values: batch.time, unit: 'none' } };
  if (wanted === 'received') return { number: { values: batch.received, unit: 'none' } };
  const exact = batch.attributes.get(name);
  if (exact) return exact;
  for (const [candidate, columns] of batch.attributes) if (candidate.toLowerCase() === wanted) return columns;
  return undefined;
}

/** Above this many possible combinations of keys a map is used instead of a table. */
const maxTable = 1 << 20;

/** Groups rows by up to four keys and, with `every` (milliseconds), by time. */
export function groupRows(
  batch: EventBatch,
  rows: Int32Array,
  by: readonly string[],
  every: number,
  tier: string,
): RowGroups {
  if (by.length === 0 && every === 0) {
    return { groups: new Int32Array(rows.length), keys: rows.length > 0 ? [{ bucket: 0, values: [] }] : [] };
  }
  const keys = by.map((name) => keyCodes(batch, name, tier));
  const firstBucket = rows.length > 0 && every > 0 ? lowestBucket(batch, rows, every) : 0;
  let combinations = every > 0 ? highestBucket(batch, rows, every) - firstBucket + 1 : 1;
  for (const key of keys) combinations *= key.count;
  const table = combinations <= maxTable ? new Int32Array(combinations) : undefined;
  const map = new Map<number, number>();
  const firstRows: number[] = [];
  const groups = new Int32Array(rows.length);
  const { time } = batch;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    let code = every > 0 ? Math.floor((time[row] as number) / every) - firstBucket : 0;
    for (const key of keys) code = code * key.count + key.codes(row);
    let group = table ? (table[code] as number) : (map.get(code) ?? 0);
    if (group === 0) {
      group = firstRows.push(row);
      if (table) table[code] = group;
      else map.set(code, group);
    }
    groups[i] = group - 1;
  }
  return {
    groups,
    keys: firstRows.map((row) => ({
      bucket: every > 0 ? Math.floor((time[row] as number) / every) * every : 0,
      values: keys.map((key) => key.value(key.codes(row))),
    })),
  };
}

function lowestBucket(batch: EventBatch, rows: Int32Array, every: number): number {
  let lowest = Number.POSITIVE_INFINITY;
  for (let i = 0; i < rows.length; i++) lowest = Math.min(lowest, batch.time[rows[i] as number] as number);
  return Math.floor(lowest / every);
}

function highestBucket(batch: EventBatch, rows: Int32Array, every: number): number {
  let highest = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < rows.length; i++) highest = Math.max(highest, batch.time[rows[i] as number] as number);
  return Math.floor(highest / every);
}

function keyCodes(batch: EventBatch, name: string, tier: string): KeyCodes {
  const lower = name.toLowerCase();
  if (lower === 'source') return { codes: () => 0, count: 1, value: () => batch.source };
  if (lower === 'tier') return { codes: () => 0, count: 1, value: () => tier };
  if (lower === 'severity') {
    return {
      codes: (row) => ((batch.severity[row] as number) + 3) >> 2,
      count: 7,
      value: (code) => severityWord(code * 4),
    };
  }
  const columns = columnsFor(batch, name);
  if (!columns) return { codes: () => 0, count: 1, value: () => null };
  const { text } = columns;
  if (text?.unique && !columns.number && !columns.flag) {
    const { codes, table } = text;
    return {
      codes: (row) => (codes[row] as number) + 1,
      count: table.count + 1,
      value: (code) => (code === 0 ? null : textAt(table, code - 1)),
    };
  }
  return mixedCodes(columns, batch.rows);
}

/** Keys that are numbers, flags, or texts that repeat in their table. */
function mixedCodes(columns: AttributeColumns, rows: number): KeyCodes {
  const values: KeyValue[] = [null];
  const known = new Map<string | number, number>();
  const codes = new Int32Array(rows);
  for (let row = 0; row < rows; row++) {
    const number = columns.number?.values[row] ?? Number.NaN;
    const code = columns.text?.codes[row] ?? -1;
    const flag = columns.flag?.values[row] ?? 2;
    let value: string | number | undefined;
    if (number === number) value = number;
    else if (columns.text && code >= 0) value = textAt(columns.text.table, code);
    else if (flag !== 2) value = flag === 1 ? 'true' : 'false';
    if (value === undefined) continue;
    let index = known.get(value);
    if (index === undefined) known.set(value, (index = values.push(String(value)) - 1));
    codes[row] = index;
  }
  return { codes: (row) => codes[row] as number, count: values.length, value: (code) => values[code] ?? null };
}
