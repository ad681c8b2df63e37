import type { TextTable } from '../events/text-table.ts';
import type { Cell } from './cells.ts';
import type { TextWriter } from './text-writer.ts';

/** How a text form writes a cell. */
export interface CellForm {
  /** A value. */
  readonly value: (value: Exclude<Cell, undefined>) => string;
  /** A stored text: bytes `start` to `end` (exclusive), UTF-8. */
  readonly text: (writer: TextWriter, bytes: Uint8Array, start: number, end: number) => void;
}

/** What is before and after each cell of a column, and instead of all three where the cell is absent; UTF-8. */
export interface CellFrame {
  readonly before: Uint8Array;
  readonly after: Uint8Array;
  readonly absent: Uint8Array;
}

const encoder = new TextEncoder();

/** A frame of texts. */
export function cellFrame({ before = '', after = '', absent = '' }): CellFrame {
  return { before: encoder.encode(before), after: encoder.encode(after), absent: encoder.encode(absent) };
}

/**
 * Writes numbers one after the other; absent where `NaN`. Returns where they are, as the other functions here do: cell `n` is from
 * `offsets[n]` to before `offsets[n + 1]` in the writer.
 */
export function writeNumbers(writer: TextWriter, numbers: Float64Array, frame: CellFrame, form: CellForm): Int32Array {
  const { before, after, absent } = frame;
  const offsets = new Int32Array(numbers.length + 1);
  for (let n = 0; n < numbers.length; n++) {
    offsets[n] = writer.end;
    const value = numbers[n] as number;
    if (Number.isNaN(value)) writer.add(absent);
    else {
      writer.add(before);
      if (Number.isFinite(value)) writer.addNumber(value);
      else writer.addText(form.value(value));
      writer.add(after);
    }
  }
  offsets[numbers.length] = writer.end;
  return offsets;
}

/** Writes times (milliseconds since 1970) as ISO 8601; none is absent. */
export function writeTimes(writer: TextWriter, times: Float64Array, { before, after }: CellFrame): Int32Array {
  const offsets = new Int32Array(times.length + 1);
  for (let n = 0; n < times.length; n++) {
    offsets[n] = writer.end;
    writer.add(before);
    writer.addTime(times[n] as number);
    writer.add(after);
  }
  offsets[times.length] = writer.end;
  return offsets;
}

/** Writes texts of a table by their codes; absent where a code is negative. */
export function writeStoredTexts(
  writer: TextWriter,
  { table, codes }: { readonly table: TextTable; readonly codes: Int32Array },
  frame: CellFrame,
  form: CellForm,
): Int32Array {
  const { before, after, absent } = frame;
  const { bytes, offsets: from } = table;
  const offsets = new Int32Array(codes.length + 1);
  for (let n = 0; n < codes.length; n++) {
    offsets[n] = writer.end;
    const code = codes[n] as number;
    if (code < 0) writer.add(absent);
    else {
      writer.add(before);
      form.text(writer, bytes, from[code] as number, from[code + 1] as number);
      writer.add(after);
    }
  }
  offsets[codes.length] = writer.end;
  return offsets;
}

/** Writes any values; absent where undefined. */
export function writeValues(
  writer: TextWriter,
  values: readonly Cell[],
  { before, after, absent }: CellFrame,
  form: CellForm,
): Int32Array {
  const offsets = new Int32Array(values.length + 1);
  for (let n = 0; n < values.length; n++) {
    offsets[n] = writer.end;
    const value = values[n];
    if (value === undefined) writer.add(absent);
    else {
      writer.add(before);
      writer.addText(form.value(value));
      writer.add(after);
    }
  }
  offsets[values.length] = writer.end;
  return offsets;
}
