import type { EventBatch } from '../events/batch.ts';
import type { AttributeColumns, TextColumn } from '../events/columns.ts';
import { rawSizes } from '../events/raw-sizes.ts';
import { severityClass, severityClasses, severityOfClass, severityWord } from '../events/severity.ts';
import { encode, hashBytes, type TextTable, textAt } from '../events/text-table.ts';

/** The value of a grouping key: text, or null for events without it. */
export type KeyValue = string | null;

/** A number for each row. */
export type Codes = Int32Array | Uint16Array | Uint8Array;

/** A key's value of each row, as small numbers from 0 up to, not including, `count`. */
export interface KeyCodes {
  /** The number of each row is `codes[row] + shift`; absent where all rows have the number 0. */
  readonly codes?: Codes;
  readonly shift: number;
  readonly count: number;
  readonly value: (code: number) => KeyValue;
  /** Hash of a value (32 bits): the same in every batch. */
  readonly hash: (code: number) => number;
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

/** A key of a batch as small numbers; `tier` is what the key of that name says. */
export function keyCodes(batch: EventBatch, name: string, tier: string): KeyCodes {
  const lower = name.toLowerCase();
  if (lower === 'source') return constantCodes(batch.source);
  if (lower === 'tier') return constantCodes(tier);
  if (lower === 'severity') {
    const value = (code: number): string => severityWord(severityOfClass(code));
    return {
      codes: batch.severity.map(severityClass),
      shift: 0,
      count: severityClasses,
      value,
      hash: (code) => hashText(value(code)),
    };
  }
  const columns = columnsFor(batch, name);
  if (!columns) return constantCodes(null);
  const { text, number, flag } = columns;
  if (text && !number && !flag) return textCodes(text);
  const numbers = number && !text && !flag ? (wholeCodes(number.values) ?? numberCodes(number.values)) : undefined;
  return numbers ?? mixedCodes(columns, batch.rows);
}

/** Keys that all rows have alike. */
function constantCodes(constant: KeyValue): KeyCodes {
  return { shift: 0, count: 1, value: () => constant, hash: () => (constant === null ? noHash : hashText(constant)) };
}

/** Stands for events without the field. */
const noHash = 0x2545f491;

function hashText(text: string): number {
  const bytes = encode(text);
  return hashBytes(bytes, 0, bytes.length);
}

const bits = new Float64Array(1);
const words = new Int32Array(bits.buffer);

function hashNumber(value: number): number {
  // Zero has two signs.
  bits[0] = value + 0;
  return Math.imul(Math.imul(words[0] as number, 0x9e3779b1) ^ (words[1] as number), 0x85ebca6b);
}

/** Keys that are texts. */
function textCodes({ codes, table, unique }: TextColumn): KeyCodes {
  const { bytes, offsets, count } = table;
  const hash = (code: number): number =>
    code === 0 ? noHash : hashBytes(bytes, offsets[code - 1] as number, offsets[code] as number);
  // A value is asked for once for each group that has it.
  const texts: string[] = [];
  const value = (code: number): KeyValue => (code === 0 ? null : (texts[code] ??= textAt(table, code - 1)));
  if (unique) return { codes, shift: 1, count: count + 1, value, hash };
  const first = firstAlike(table) ?? firstByText(table);
  const alike = codes.map((code) => (code < 0 ? code : (first[code] as number)));
  return { codes: alike, shift: 1, count: count + 1, value, hash };
}

/** For each text of a table the first one that says the same; undefined where too many of them share a hash. */
function firstAlike({ bytes, offsets, count }: TextTable): Int32Array | undefined {
  const first = new Int32Array(count);
  const slots = newSlots(count);
  const mask = slots.length - 1;
  for (let i = 0; i < count; i++) {
    const [start, end] = [offsets[i] as number, offsets[i + 1] as number];
    let slot = spread(hashBytes(bytes, start, end)) & mask;
    let known = slots[slot] as number;
    for (let tries = 0; known > 0; tries++) {
      if (areAlike(bytes, start, end, offsets[known - 1] as number, offsets[known] as number)) break;
      if (tries > mostTries) return undefined;
      slot = (slot + 1) & mask;
      known = slots[slot] as number;
    }
    if (known === 0) slots[slot] = known = i + 1;
    first[i] = known - 1;
  }
  return first;
}

/** As {@link firstAlike}, slower, for texts that someone made to share a hash. */
function firstByText(table: TextTable): Int32Array {
  const known = new Map<string, number>();
  return Int32Array.from({ length: table.count }, (_, i) => {
    const text = textAt(table, i);
    const first = known.get(text);
    if (first === undefined) known.set(text, i);
    return first ?? i;
  });
}

function areAlike(bytes: Uint8Array, start: number, end: number, otherStart: number, otherEnd: number): boolean {
  if (end - start !== otherEnd - otherStart) return false;
  for (let i = start, k = otherStart; i < end; i++, k++) if (bytes[i] !== bytes[k]) return false;
  return true;
}

/** Places of a table that are looked at for one value. */
const mostTries = 64;

/** An empty table of at least twice as many slots, a power of two. */
function newSlots(count: number): Int32Array {
  return new Int32Array(2 ** Math.max(4, Math.ceil(Math.log2(count * 2 + 1))));
}

/** Spreads a hash over all bits (the finaliser of MurmurHash3, A. Appleby). */
function spread(hash: number): number {
  const h = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  return h ^ (h >>> 13);
}

/** Between the least and the greatest of whole numbers that are their own codes: what is always little, and for each row. */
const widestWhole = 65_534;
const widestForRow = 8;

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
  if (high < low) return constantCodes(null);
  if (high - low >= Math.max(widestWhole, widestForRow * values.length)) return undefined;
  const codes = high - low < widestWhole ? new Uint16Array(values.length) : new Int32Array(values.length);
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value === value) codes[row] = value - low + 1;
  }
  return {
    codes,
    shift: 0,
    count: high - low + 2,
    value: (code) => (code === 0 ? null : String(low + code - 1)),
    hash: (code) => (code === 0 ? noHash : hashNumber(low + code - 1)),
  };
}

/** Keys that are any numbers; undefined where too many of them share a hash. */
function numberCodes(values: Float64Array): KeyCodes | undefined {
  const codes = new Int32Array(values.length);
  const slots = newSlots(values.length);
  const mask = slots.length - 1;
  const known: number[] = [];
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value !== value) continue;
    let slot = spread(hashNumber(value)) & mask;
    let code = slots[slot] as number;
    for (let tries = 0; code > 0 && known[code - 1] !== value; tries++) {
      if (tries > mostTries) return undefined;
      slot = (slot + 1) & mask;
      code = slots[slot] as number;
    }
    if (code === 0) slots[slot] = code = known.push(value);
    codes[row] = code;
  }
  return {
    codes,
    shift: 0,
    count: known.length + 1,
    value: (code) => (code === 0 ? null : String(known[code - 1])),
    hash: (code) => (code === 0 ? noHash : hashNumber(known[code - 1] as number)),
  };
}

/** Keys of which some are numbers, some texts, some flags. */
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
  return {
    codes,
    shift: 0,
    count: values.length,
    value: (code) => values[code] ?? null,
    hash: (code) => (code === 0 ? noHash : hashText(values[code] ?? '')),
  };
}

/** Numbers codes anew in the order in which they occur, in place. Returns how many there are. */
export function renumber(codes: Int32Array | Float64Array): number {
  const places = new Map<number, number>();
  for (let i = 0; i < codes.length; i++) {
    const code = codes[i] as number;
    let place = places.get(code);
    if (place === undefined) places.set(code, (place = places.size));
    codes[i] = place;
  }
  return places.size;
}
