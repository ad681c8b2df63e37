import type { EventBatch } from '../events/batch.ts';
import { type Codes, type KeyCodes, type KeyValue, keyCodes, renumber } from './key-codes.ts';

/** The groups of some rows. */
export interface RowGroups {
  /** For each chosen row its group. */
  readonly groups: Int32Array;
  /** For each group the values of its keys, and its time bucket (milliseconds; 0 without buckets). */
  readonly keys: readonly { readonly bucket: number; readonly values: readonly KeyValue[] }[];
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
  const codes = combine(times, keys, rows, combinations);
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
  times: { readonly codes: Int32Array; readonly count: number } | undefined,
  keys: readonly KeyCodes[],
  rows: Int32Array,
  combinations: number,
): Int32Array | Float64Array {
  const isSmall = combinations < 2 ** 31;
  const combined = isSmall
    ? (times?.codes ?? new Int32Array(rows.length))
    : Float64Array.from(times?.codes ?? rows.map(() => 0));
  let range = times?.count ?? 1;
  for (const { codes, shift, count } of keys) {
    if (!codes) continue;
    if (range * count > Number.MAX_SAFE_INTEGER) range = renumber(combined);
    if (isSmall) addKey(combined, rows, codes, shift, count);
    else
      for (let i = 0; i < rows.length; i++)
        combined[i] = (combined[i] as number) * count + (codes[rows[i] as number] as number) + shift;
    range *= count;
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
