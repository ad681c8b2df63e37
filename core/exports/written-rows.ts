import type { Cells } from './cells.ts';
import { TextWriter } from './text-writer.ts';
import { type CellForm, cellFrame, writeNumbers, writeStoredTexts, writeTimes, writeValues } from './written-column.ts';

/** A written column: the cell of row `n` goes from `offsets[p]` to `offsets[p + 1]`, where `p` is `at[n]`, or `n` without `at`. */
interface WrittenColumn {
  readonly offsets: Int32Array;
  readonly at?: Int32Array | undefined;
  readonly replacesComma?: boolean;
}

/** What is before and after the cells of a column, and instead of all three where a cell is absent. */
interface Surroundings {
  readonly before?: string;
  readonly after?: string;
  readonly absent?: string;
}

const comma = 44;
/** Bytes that are copied at once; so many more than a text has may be read and written behind it. */
const wordBytes = 4;

/**
 * Rows of text. They are written column by column, each kind of cell in a loop of its own and a value that many rows share only once;
 * `bytes` then puts the rows together.
 */
export class WrittenRows {
  private readonly form: CellForm;
  private readonly writer = new TextWriter();
  private readonly columns: WrittenColumn[] = [];
  private readonly zeros: Int32Array;

  /** For this many rows. */
  constructor(count: number, form: CellForm) {
    this.form = form;
    this.zeros = new Int32Array(count);
  }

  /** Adds the same text to each row. Where `replacesComma` is true it takes the place of a comma that the row ends with so far. */
  addText(text: string, replacesComma = false): void {
    const offsets = writeValues(this.writer, [undefined], cellFrame({ absent: text }), this.form);
    this.columns.push({ offsets, at: this.zeros, replacesComma });
  }

  /** Adds its cell to each row. */
  addCells(cells: Cells, surroundings: Surroundings): void {
    const { writer, form } = this;
    const frame = cellFrame(surroundings);
    if ('numbers' in cells) this.columns.push({ offsets: writeNumbers(writer, cells.numbers, frame, form) });
    else if ('table' in cells) this.columns.push({ offsets: writeStoredTexts(writer, cells, frame, form) });
    else this.columns.push({ offsets: writeValues(writer, cells.values, frame, form), at: cells.at });
  }

  /** Adds a time (milliseconds since 1970) to each row, as ISO 8601 in UTC. */
  addTimes(times: Float64Array, surroundings: Surroundings): void {
    this.columns.push({ offsets: writeTimes(this.writer, times, cellFrame(surroundings)) });
  }

  /** The rows one after the other, as UTF-8. */
  bytes(): Uint8Array {
    const { columns, zeros } = this;
    const from = this.writer.view(wordBytes);
    const bytes = new Uint8Array(this.size() + wordBytes);
    const to = new DataView(bytes.buffer);
    let length = 0;
    for (let n = 0; n < zeros.length; n++)
      for (let c = 0; c < columns.length; c++) {
        const { offsets, at, replacesComma } = columns[c] as WrittenColumn;
        const place = at ? (at[n] as number) : n;
        const start = offsets[place] as number;
        const end = offsets[place + 1] as number;
        if (replacesComma && bytes[length - 1] === comma) length--;
        // What is copied beyond its end is overwritten by the next text.
        for (let i = start, k = length; i < end; i += wordBytes, k += wordBytes) to.setInt32(k, from.getInt32(i));
        length += end - start;
      }
    return bytes.subarray(0, length);
  }

  /** How many bytes the rows have, each replaced comma counted. */
  private size(): number {
    let size = 0;
    for (const { offsets, at } of this.columns) {
      if (!at) size += (offsets.at(-1) as number) - (offsets[0] as number);
      else for (const place of at) size += (offsets[place + 1] as number) - (offsets[place] as number);
    }
    return size;
  }
}
