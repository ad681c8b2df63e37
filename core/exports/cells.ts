import type { EventBatch } from '../events/batch.ts';
import { type AttributeColumns, missingCode, type TextColumn, valueAt } from '../events/columns.ts';
import { severityWord } from '../events/severity.ts';
import { type TextTable, textAt } from '../events/text-table.ts';

/** Found events of one segment: some rows of a batch, and the tier that they are kept in. */
export interface ExportRows {
  readonly batch: EventBatch;
  readonly rows: Int32Array;
  readonly tier: string;
}

/** A value of a table of events. */
export type Cell = string | number | boolean | undefined;

/** The cells of a column, in the way that is cheapest to write out: a value for each event, shared ones once. */
export type Cells = ValueCells | NumberCells | StoredTexts;

/** The cell of the n-th event is `values[at[n]]`, or `values[n]` where there is no `at`. */
export interface ValueCells {
  readonly values: readonly Cell[];
  readonly at?: Int32Array;
}

/** The cell of the n-th event is `numbers[n]`; it is absent where that is `NaN`. */
export interface NumberCells {
  readonly numbers: Float64Array;
}

/** The cell of the n-th event is text `codes[n]` of a table; it is absent where that is negative. For texts that nearly all differ. */
export interface StoredTexts {
  readonly table: TextTable;
  readonly codes: Int32Array;
}

/** The n-th cell. Not for hot loops. */
export function cellAt(cells: Cells, n: number): Cell {
  if ('values' in cells) return cells.values[cells.at ? (cells.at[n] as number) : n];
  if ('numbers' in cells) return Number.isNaN(cells.numbers[n]) ? undefined : cells.numbers[n];
  const code = cells.codes[n] as number;
  return code < 0 ? undefined : textAt(cells.table, code);
}

/** The same for all of some events. */
export function sameCells(value: Cell, { rows }: ExportRows): Cells {
  return { values: [value], at: new Int32Array(rows.length) };
}

/** Numbers of the batch as they are; those equal to `absent` are absent. */
export function numberCells(values: ArrayLike<number>, rows: Int32Array, absent = Number.NaN): NumberCells {
  const numbers = new Float64Array(rows.length);
  for (let n = 0; n < rows.length; n++) {
    const value = values[rows[n] as number] as number;
    numbers[n] = value === absent ? Number.NaN : value;
  }
  return { numbers };
}

/** Severities in words. */
export function severityCells({ batch, rows }: ExportRows): Cells {
  const words: string[] = [];
  return {
    values: Array.from(
      rows,
      (row) => (words[batch.severity[row] as number] ??= severityWord(batch.severity[row] as number)),
    ),
  };
}

/** The bodies; empty ones are absent. */
export function bodyCells({ batch: { body }, rows }: ExportRows): Cells | undefined {
  if (body.count === 0) return undefined;
  const { offsets } = body;
  return { table: body, codes: rows.map((row) => (offsets[row + 1] === offsets[row] ? missingCode : row)) };
}

/** The texts of a column; undefined where none of the rows has one. */
export function textCells({ codes, table, unique }: TextColumn, rows: Int32Array): Cells | undefined {
  // Of many columns most have nothing in these rows: that is found out without making anything.
  if (!hasText(codes, rows)) return undefined;
  const chosen = rows.map((row) => codes[row] as number);
  if (!unique) return { table, codes: chosen };
  // The first of the values is for those that have none.
  const values: Cell[] = [undefined];
  const places = new Int32Array(table.count);
  const at = chosen.map((code) => {
    if (code < 0) return 0;
    if (places[code] === 0) places[code] = values.push(textAt(table, code)) - 1;
    return places[code] as number;
  });
  return { values, at };
}

function hasText(codes: Int32Array, rows: Int32Array): boolean {
  for (let n = 0; n < rows.length; n++) if ((codes[rows[n] as number] as number) >= 0) return true;
  return false;
}

function hasNumber(values: Float64Array, rows: Int32Array): boolean {
  for (let n = 0; n < rows.length; n++) {
    const value = values[rows[n] as number] as number;
    if (value === value) return true;
  }
  return false;
}

/** The values of an attribute; undefined where none of the rows has one. */
export function attributeCells(columns: AttributeColumns | undefined, rows: Int32Array): Cells | undefined {
  if (!columns) return undefined;
  const { number, text, flag } = columns;
  if (text && !number && !flag) return textCells(text, rows);
  if (number && !text && !flag) return hasNumber(number.values, rows) ? numberCells(number.values, rows) : undefined;
  const values = Array.from(rows, (row) => valueAt(columns, row));
  return values.some((value) => value !== undefined) ? { values } : undefined;
}
