import { encode, type TextTable, TextTableBuilder, textAt } from './text-table.ts';
import type { Unit } from './units.ts';

/** Numbers, one per row; `NaN` where the event lacks the attribute. Durations in seconds, sizes in bytes. */
export interface NumberColumn {
  readonly values: Float64Array;
  readonly unit: Unit;
}

/**
 * Texts, one per row: `codes[row]` points into `table`, −1 where the event lacks the attribute.
 * With `unique` every text is in the table once; without it (when nearly every value differs) the table may repeat.
 */
export interface TextColumn {
  readonly codes: Int32Array;
  readonly table: TextTable;
  readonly unique: boolean;
}

/** Flags, one per row: 0 false, 1 true, 2 where the event lacks the attribute. */
export interface FlagColumn {
  readonly values: Uint8Array;
}

/** All values of one attribute name. More than one column means that its type differs between events. */
export interface AttributeColumns {
  readonly number?: NumberColumn;
  readonly text?: TextColumn;
  readonly flag?: FlagColumn;
}

/** A single attribute value. */
export type AttributeValue = string | number | boolean;

export const missingCode = -1;
export const missingFlag = 2;

/** The value of an attribute in one row; undefined where the event lacks it. Not for hot loops. */
export function valueAt(columns: AttributeColumns, row: number): AttributeValue | undefined {
  const number = columns.number?.values[row];
  if (number !== undefined && !Number.isNaN(number)) return number;
  const code = columns.text?.codes[row] ?? missingCode;
  if (columns.text && code >= 0) return textAt(columns.text.table, code);
  const flag = columns.flag?.values[row] ?? missingFlag;
  return flag === missingFlag ? undefined : flag === 1;
}

/** Whether an event has an attribute. */
export function hasValueAt({ number, text, flag }: AttributeColumns, row: number): boolean {
  const value = number?.values[row];
  if (value !== undefined && value === value) return true;
  return (text?.codes[row] ?? missingCode) >= 0 || (flag?.values[row] ?? missingFlag) !== missingFlag;
}

/** A text column from strings; undefined entries are missing. */
export function textColumn(values: readonly (string | undefined)[]): TextColumn {
  const builder = new TextColumnBuilder(values.length);
  values.forEach((value, row) => {
    if (value !== undefined) builder.setText(row, value);
  });
  return builder.column(values.length);
}

/** How many texts are looked at before a column may give up sharing equal ones. */
const trialLength = 1024;

/** Fills a {@link TextColumn} row by row; gives up sharing equal texts when most of them differ. */
export class TextColumnBuilder {
  private codes: Int32Array;
  private readonly texts = new TextTableBuilder();
  private unique = true;
  private values = 0;

  constructor(capacity: number) {
    this.codes = new Int32Array(capacity).fill(missingCode);
  }

  /** Sets a row from UTF-8 bytes. */
  set(row: number, source: Uint8Array, start: number, end: number): void {
    if (row >= this.codes.length) this.grow(row);
    this.codes[row] = this.unique ? this.texts.intern(source, start, end) : this.texts.append(source, start, end);
    if (++this.values === trialLength) this.decide();
  }

  /** Sets a row from UTF-8 bytes whose FNV-1a hash is known. */
  setHashed(row: number, source: Uint8Array, start: number, end: number, hash: number): void {
    if (row >= this.codes.length) this.grow(row);
    this.codes[row] = this.unique
      ? this.texts.internHashed(source, start, end, hash)
      : this.texts.append(source, start, end);
    if (++this.values === trialLength) this.decide();
  }

  /** Sets a row from a string. */
  setText(row: number, text: string): void {
    const bytes = encode(text);
    this.set(row, bytes, 0, bytes.length);
  }

  /** Sets a row to a text that is already in the table. */
  setCode(row: number, code: number): void {
    if (row >= this.codes.length) this.grow(row);
    this.codes[row] = code;
  }

  /** Takes a row's value back. */
  clear(row: number): void {
    if (row < this.codes.length) this.codes[row] = missingCode;
  }

  /** The finished column of `rows` rows. */
  column(rows: number): TextColumn {
    if (rows > this.codes.length) this.grow(rows - 1);
    return { codes: this.codes.subarray(0, rows), table: this.texts.table(), unique: this.unique };
  }

  private decide(): void {
    if (this.texts.count > trialLength / 2) this.unique = false;
  }

  private grow(row: number): void {
    const grown = new Int32Array(Math.max(row + 1, this.codes.length * 2)).fill(missingCode);
    grown.set(this.codes);
    this.codes = grown;
  }
}

/** Fills a {@link NumberColumn} row by row. */
export class NumberColumnBuilder {
  private values: Float64Array;

  constructor(
    capacity: number,
    readonly unit: Unit = 'none',
  ) {
    this.values = new Float64Array(capacity).fill(Number.NaN);
  }

  /** Sets a row; `NaN` takes its value back. */
  set(row: number, value: number): void {
    if (row >= this.values.length) this.grow(row);
    this.values[row] = value;
  }

  /** The finished column of `rows` rows. */
  column(rows: number): NumberColumn {
    if (rows > this.values.length) this.grow(rows - 1);
    return { values: this.values.subarray(0, rows), unit: this.unit };
  }

  private grow(row: number): void {
    const grown = new Float64Array(Math.max(row + 1, this.values.length * 2)).fill(Number.NaN);
    grown.set(this.values);
    this.values = grown;
  }
}

/** Fills a {@link FlagColumn} row by row. */
export class FlagColumnBuilder {
  private values: Uint8Array;

  constructor(capacity: number) {
    this.values = new Uint8Array(capacity).fill(missingFlag);
  }

  /** Sets a row to 0, 1 or 2 (missing). */
  set(row: number, value: 0 | 1 | 2): void {
    if (row >= this.values.length) {
      const grown = new Uint8Array(Math.max(row + 1, this.values.length * 2)).fill(missingFlag);
      grown.set(this.values);
      this.values = grown;
    }
    this.values[row] = value;
  }

  /** The finished column of `rows` rows. */
  column(rows: number): FlagColumn {
    if (rows > this.values.length) this.set(rows - 1, missingFlag);
    return { values: this.values.subarray(0, rows) };
  }
}
