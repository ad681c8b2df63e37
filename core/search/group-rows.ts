import type { EventBatch } from '../events/batch.ts';
import type { AttributeColumns } from '../events/columns.ts';
import { rawSizes } from '../events/raw-sizes.ts';
import { severityClass, severityClasses, severityOfClass, severityWord } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';

/** The value of a grouping key: text, or null for events without it. */
export type KeyValue = string | null;

/** A number for each row. */
type Codes = Int32Array | Uint16Array | Uint8Array;

/** A key's value of each row, as small numbers from 0 up to, not including, `count`. */
interface KeyCodes {
  /** The number of each row is `codes[row] + shift`; absent where all rows have the number 0. */
  readonly codes?: Codes;
  readonly shift: number;
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
  if (wanted === 'shape') return batch.shape && { text: batch.shape };
  if (wanted === 'time') return { number: { values: batch.time, unit: 'none' } };
  if (wanted === 'received') return { number: { values: batch.received, unit: 'none' } };
  if (wanted === 'raw_bytes') return { number: { values: rawSizes(batch.size), unit: 'size' } };
  const exact = batch.attributes.get(name);
  if (exact) return exact;
  for (const [candidate, columns] of batch.attributes) if (candidate.toLowerCase() === wanted) return columns;
  return undefined;
}

/** Above this many possible combinations of keys a map is used instead of a table. */
const maxTable = 1 << 20;

/** What rows are grouped by: up to four keys, and with `every` (milliseconds; else 0) the time. */
export interface Grouping {
  readonly by: readonly string[];
  readonly every: number;
  readonly tier: string;
}

/** Groups rows. */
export function groupRows(batch: EventBatch, rows: Int32Array, { by, every, tier }: Grouping): RowGroups {
  if (by.length === 0 && every === 0) {
    return { groups: new Int32Array(rows.length), keys: rows.length > 0 ? [{ bucket: 0, values: [] }] : [] };
  }
  const keys = by.map((name) => keyCodes(batch, name, tier));
  const times = every > 0 ? timeCodes(batch.time, rows, every) : undefined;
  const combinations = keys.reduce((product, { count }) => product * count, times?.count ?? 1);
  const codes = combine(times?.codes, keys, rows, combinations);
  const { groups, firstPlaces } = numbered(codes, combinations);
  return {
    groups,
    keys: Array.from(firstPlaces, (place) => {
      const row = rows[place] as number;
      return {
        bucket: every > 0 ? Math.floor((batch.time[row] as number) / every) * every : 0,
        values: keys.map(({ codes, shift, value }) => value(codes ? (codes[row] as number) + shift : 0)),
      };
    }),
  };
}

/** For each of some rows its time bucket, from 0 up to, not including, `count`. */
function timeCodes(
  time: Float64Array,
  rows: Int32Array,
  every: number,
): { readonly codes: Int32Array; readonly count: number } {
  const { low, high } = timeRange(time, rows);
  const first = Math.floor(low / every);
  const codes = new Int32Array(rows.length);
  let code = 0;
  let start = first * every;
  let end = start + every;
  for (let i = 0; i < rows.length; i++) {
    const at = time[rows[i] as number] as number;
    // Neighbours mostly share their bucket.
    if (at < start || at >= end) {
      code = Math.floor(at / every) - first;
      start = (first + code) * every;
      end = start + every;
    }
    codes[i] = code;
  }
  return { codes, count: Math.floor(high / every) - first + 1 };
}

function timeRange(time: Float64Array, rows: Int32Array): { readonly low: number; readonly high: number } {
  let low = time[rows[0] ?? 0] ?? 0;
  let high = low;
  for (let i = 1; i < rows.length; i++) {
    const at = time[rows[i] as number] as number;
    if (at < low) low = at;
    if (at > high) high = at;
  }
  return { low, high };
}

/** One number for all that rows are grouped by. */
function combine(
  times: Int32Array | undefined,
  keys: readonly KeyCodes[],
  rows: Int32Array,
  combinations: number,
): Int32Array | Float64Array {
  const isSmall = combinations < 2 ** 31;
  const combined = isSmall ? (times ?? new Int32Array(rows.length)) : Float64Array.from(times ?? rows.map(() => 0));
  for (const { codes, shift, count } of keys) {
    if (!codes) continue;
    if (isSmall) addKey(combined, rows, codes, shift, count);
    else
      for (let i = 0; i < rows.length; i++)
        combined[i] = (combined[i] as number) * count + (codes[rows[i] as number] as number) + shift;
  }
  return combined;
}

function addKey(
  combined: Int32Array | Float64Array,
  rows: Int32Array,
  codes: Codes,
  shift: number,
  count: number,
): void {
  for (let i = 0; i < rows.length; i++)
    combined[i] = Math.imul(combined[i] as number, count) + (codes[rows[i] as number] as number) + shift;
}

/** Numbers the different codes in the order in which they occur, and says where each occurs first. */
function numbered(
  codes: Int32Array | Float64Array,
  combinations: number,
): { readonly groups: Int32Array; readonly firstPlaces: readonly number[] } {
  const firstPlaces: number[] = [];
  // Each code is read before its group takes its place.
  const groups = codes instanceof Int32Array ? codes : new Int32Array(codes.length);
  if (combinations <= maxTable) {
    const table = new Int32Array(combinations);
    for (let i = 0; i < codes.length; i++) {
      const code = codes[i] as number;
      let group = table[code] as number;
      if (group === 0) table[code] = group = firstPlaces.push(i);
      groups[i] = group - 1;
    }
    return { groups, firstPlaces };
  }
  const known = new Map<number, number>();
  for (let i = 0; i < codes.length; i++) {
    const code = codes[i] as number;
    let group = known.get(code);
    if (group === undefined) known.set(code, (group = firstPlaces.push(i)));
    groups[i] = group - 1;
  }
  return { groups, firstPlaces };
}

function keyCodes(batch: EventBatch, name: string, tier: string): KeyCodes {
  const lower = name.toLowerCase();
  if (lower === 'source') return { shift: 0, count: 1, value: () => batch.source };
  if (lower === 'tier') return { shift: 0, count: 1, value: () => tier };
  if (lower === 'severity') {
    return {
      codes: batch.severity.map(severityClass),
      shift: 0,
      count: severityClasses,
      value: (code) => severityWord(severityOfClass(code)),
    };
  }
  const columns = columnsFor(batch, name);
  if (!columns) return { shift: 0, count: 1, value: () => null };
  const { text, number, flag } = columns;
  if (text?.unique && !number && !flag) {
    const { codes, table } = text;
    // A value is asked for once for each group that has it.
    const texts: string[] = [];
    const value = (code: number): KeyValue => (code === 0 ? null : (texts[code] ??= textAt(table, code - 1)));
    return { codes, shift: 1, count: table.count + 1, value };
  }
  const whole = number && !text && !flag ? wholeCodes(number.values) : undefined;
  return whole ?? mixedCodes(columns, batch.rows);
}

/** Between the least and the greatest of whole numbers that are their own codes. */
const widestWhole = 65_534;

/** Keys that are whole numbers close to each other, such as status codes; undefined for others. */
function wholeCodes(values: Float64Array): KeyCodes | undefined {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value !== value) continue;
    if ((value | 0) !== value) return undefined;
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (high < low) return { shift: 0, count: 1, value: () => null };
  if (high - low >= widestWhole) return undefined;
  const codes = new Uint16Array(values.length);
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value === value) codes[row] = value - low + 1;
  }
  return { codes, shift: 0, count: high - low + 2, value: (code) => (code === 0 ? null : String(low + code - 1)) };
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
  return { codes, shift: 0, count: values.length, value: (code) => values[code] ?? null };
}
