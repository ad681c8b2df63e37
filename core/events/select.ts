import type { EventBatch } from './batch.ts';
import {
  type AttributeColumns,
  FlagColumnBuilder,
  missingCode,
  missingFlag,
  NumberColumnBuilder,
  type TextColumn,
} from './columns.ts';
import { type TextTable, TextTableBuilder } from './text-table.ts';

/** Some rows of a batch, in the order given. */
export interface Selection {
  readonly batch: EventBatch;
  readonly rows: Int32Array;
}

/** All rows of a batch. */
export function allRows(batch: EventBatch): Int32Array {
  return countUp(batch.rows);
}

/** The numbers from 0 up to, not including, `count`. */
export function countUp(count: number): Int32Array {
  const numbers = new Int32Array(count);
  for (let i = 0; i < count; i++) numbers[i] = i;
  return numbers;
}

/**
 * One batch from rows of several batches of the same source, in the order given.
 * Texts that no chosen row uses are left behind.
 */
export function gather(source: string, parts: readonly Selection[]): EventBatch {
  const only = parts.length === 1 ? parts[0] : undefined;
  if (only && only.rows.length === only.batch.rows && inOrder(only.rows)) return only.batch;
  let rows = 0;
  for (const part of parts) rows += part.rows.length;
  const names = new Set<string>();
  for (const part of parts) for (const name of part.batch.attributes.keys()) names.add(name);
  const attributes = new Map<string, AttributeColumns>();
  for (const name of names) {
    const columns = gatherAttribute(name, parts, rows);
    if (columns.number || columns.text || columns.flag) attributes.set(name, columns);
  }
  const shape = gatherText(parts, (batch) => batch.shape, rows);
  return {
    rows,
    source,
    time: gatherNumbers(parts, (batch) => batch.time, new Float64Array(rows)),
    received: gatherNumbers(parts, (batch) => batch.received, new Float64Array(rows)),
    severity: gatherNumbers(parts, (batch) => batch.severity, new Uint8Array(rows)),
    weight: gatherNumbers(parts, (batch) => batch.weight, new Float32Array(rows)),
    size: gatherNumbers(parts, (batch) => batch.size, new Uint32Array(rows)),
    parsed: gatherNumbers(parts, (batch) => batch.parsed, new Uint8Array(rows)),
    emitter: gatherText(parts, (batch) => batch.emitter, rows) ?? {
      codes: new Int32Array(rows).fill(missingCode),
      table: new TextTableBuilder().table(),
      unique: true,
    },
    body: gatherBodies(parts),
    ...(shape && { shape }),
    attributes,
  };
}

/** The rows of a batch sorted by time, earliest first; rows of the same time keep their order. */
export function rowsByTime(batch: EventBatch): Int32Array {
  const rows = allRows(batch);
  const { time } = batch;
  for (let i = 1; i < rows.length; i++) {
    if ((time[i] as number) < (time[i - 1] as number)) {
      return rows.sort((a, b) => (time[a] as number) - (time[b] as number) || a - b);
    }
  }
  return rows;
}

function inOrder(rows: Int32Array): boolean {
  for (let i = 0; i < rows.length; i++) if (rows[i] !== i) return false;
  return true;
}

let upward: Int32Array = new Int32Array(0);

/** As {@link countUp}, for callers that do not change the numbers: they are shared. */
export function sharedCountUp(count: number): Int32Array {
  if (count > upward.length) upward = countUp(Math.max(count, upward.length * 2));
  return upward.subarray(0, count);
}

type Numbers = Float64Array | Float32Array | Int32Array | Uint8Array | Uint16Array | Uint32Array;

/** The numbers of some rows, written to `out` in the order of the rows. */
export function pick<T extends Numbers>(values: Numbers, rows: Int32Array, out: T): T {
  for (let i = 0; i < rows.length; i++) out[i] = values[rows[i] as number] as number;
  return out;
}

function gatherNumbers<T extends Numbers>(
  parts: readonly Selection[],
  valuesOf: (batch: EventBatch) => Numbers,
  out: T,
): T {
  let at = 0;
  for (const { batch, rows } of parts) {
    pick(valuesOf(batch), rows, out.subarray(at));
    at += rows.length;
  }
  return out;
}

function gatherAttribute(name: string, parts: readonly Selection[], rows: number): AttributeColumns {
  const text = gatherText(parts, (batch) => batch.attributes.get(name)?.text, rows);
  let number: NumberColumnBuilder | undefined;
  let flag: FlagColumnBuilder | undefined;
  let at = 0;
  for (const part of parts) {
    const columns = part.batch.attributes.get(name);
    if (columns?.number) {
      const { values, unit } = columns.number;
      for (let i = 0; i < part.rows.length; i++) {
        const value = values[part.rows[i] as number] as number;
        if (value !== value) continue;
        number ??= new NumberColumnBuilder(rows, unit);
        number.set(at + i, value);
      }
    }
    if (columns?.flag) {
      const { values } = columns.flag;
      for (let i = 0; i < part.rows.length; i++) {
        const value = values[part.rows[i] as number] as 0 | 1 | 2;
        if (value === missingFlag) continue;
        flag ??= new FlagColumnBuilder(rows);
        flag.set(at + i, value);
      }
    }
    at += part.rows.length;
  }
  return {
    ...(number && { number: number.column(rows) }),
    ...(text && { text }),
    ...(flag && { flag: flag.column(rows) }),
  };
}

function gatherText(
  parts: readonly Selection[],
  pick: (batch: EventBatch) => TextColumn | undefined,
  rows: number,
): TextColumn | undefined {
  const unique = parts.every((part) => pick(part.batch)?.unique ?? true);
  const texts = new TextTableBuilder();
  const codes = new Int32Array(rows).fill(missingCode);
  let at = 0;
  for (const part of parts) {
    const column = pick(part.batch);
    if (column) {
      const { bytes, offsets, count } = column.table;
      const renamed = new Int32Array(column.unique ? count : 0).fill(missingCode);
      for (let i = 0; i < part.rows.length; i++) {
        const code = column.codes[part.rows[i] as number] as number;
        if (code < 0) continue;
        const start = offsets[code] as number;
        const end = offsets[code + 1] as number;
        if (!unique) {
          codes[at + i] = texts.append(bytes, start, end);
          continue;
        }
        let next = renamed[code] as number;
        if (next < 0) {
          next = texts.intern(bytes, start, end);
          renamed[code] = next;
        }
        codes[at + i] = next;
      }
    }
    at += part.rows.length;
  }
  return texts.count === 0 ? undefined : { codes, table: texts.table(), unique };
}

function gatherBodies(parts: readonly Selection[]): TextTable {
  let rows = 0;
  let size = 0;
  for (const part of parts) {
    const { offsets } = part.batch.body;
    rows += part.rows.length;
    for (let i = 0; i < part.rows.length; i++) {
      const row = part.rows[i] as number;
      size += (offsets[row + 1] as number) - (offsets[row] as number);
    }
  }
  const bytes = new Uint8Array(size);
  const offsets = new Uint32Array(rows + 1);
  let at = 0;
  let index = 0;
  for (const part of parts) {
    const body = part.batch.body;
    for (let i = 0; i < part.rows.length; ) {
      // Neighbouring rows lie end to end: copy the whole run at once.
      let last = i;
      while (last + 1 < part.rows.length && part.rows[last + 1] === (part.rows[last] as number) + 1) last++;
      const start = body.offsets[part.rows[i] as number] as number;
      const end = body.offsets[(part.rows[last] as number) + 1] as number;
      bytes.set(body.bytes.subarray(start, end), at);
      for (; i <= last; i++) {
        offsets[++index] = at + (body.offsets[(part.rows[i] as number) + 1] as number) - start;
      }
      at += end - start;
    }
  }
  return { bytes, offsets, count: rows };
}
