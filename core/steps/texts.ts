import type { Mask } from '../conditions/mask.ts';
import type { EventBatch } from '../events/batch.ts';
import { AttributeBuilder } from '../events/batch-builder.ts';
import { type AttributeColumns, missingFlag, type TextColumn } from '../events/columns.ts';
import type { TextTable } from '../events/text-table.ts';
import { decode, encode } from '../events/text-table.ts';
import type { Unit } from '../events/units.ts';

/** Calls `each` with the UTF-8 text that `field` (an attribute, `body` or `emitter`) has in each chosen row. */
export function eachText(
  batch: EventBatch,
  field: string,
  rows: Mask,
  each: (row: number, bytes: Uint8Array, start: number, end: number) => void,
  missing: (row: number) => void,
): void {
  if (field === 'body') {
    eachBody(batch.body, rows, each, missing);
    return;
  }
  const columns = field === 'emitter' ? { text: batch.emitter } : batch.attributes.get(field);
  for (let row = 0; row < rows.length; row++) {
    if (rows[row] === 0) continue;
    const code = columns?.text?.codes[row] ?? -1;
    if (code >= 0 && columns?.text) {
      const { bytes, offsets } = columns.text.table;
      each(row, bytes, offsets[code] as number, offsets[code + 1] as number);
      continue;
    }
    const number = columns?.number?.values[row] ?? Number.NaN;
    if (number !== number) missing(row);
    else {
      const text = encode(String(number));
      each(row, text, 0, text.length);
    }
  }
}

function eachBody(
  body: TextTable,
  rows: Mask,
  each: (row: number, bytes: Uint8Array, start: number, end: number) => void,
  missing: (row: number) => void,
): void {
  const { bytes, offsets } = body;
  for (let row = 0; row < rows.length; row++) {
    if (rows[row] === 0) continue;
    const start = offsets[row] as number;
    const end = offsets[row + 1] as number;
    if (end > start) each(row, bytes, start, end);
    else missing(row);
  }
}

/**
 * An attribute in which the chosen rows have the new values, where they were given one, and all others what they had;
 * undefined when no row has any.
 */
function overlay(old: AttributeColumns | undefined, made: AttributeColumns, rows: Mask): AttributeColumns | undefined {
  if (!old) return rows.includes(0) ? without(made, othersThan(rows)) : made;
  const given = new Uint8Array(rows.length);
  for (let row = 0; row < rows.length; row++) if (rows[row] === 1 && hasValue(made, row)) given[row] = 1;
  if (!given.includes(0)) return made;
  const merged = new AttributeBuilder(rows.length, made.number?.unit ?? old.number?.unit ?? 'none');
  for (let row = 0; row < rows.length; row++) copyValue(given[row] === 1 ? made : old, row, merged);
  return merged.columns(rows.length);
}

function othersThan(rows: Mask): Mask {
  const others = new Uint8Array(rows.length);
  for (let row = 0; row < rows.length; row++) others[row] = (rows[row] as number) ^ 1;
  return others;
}

function hasValue({ number, text, flag }: AttributeColumns, row: number): boolean {
  if (text && (text.codes[row] as number) >= 0) return true;
  if (number && !Number.isNaN(number.values[row])) return true;
  return flag !== undefined && flag.values[row] !== missingFlag;
}

function copyValue(from: AttributeColumns, row: number, to: AttributeBuilder): void {
  const number = from.number?.values[row] ?? Number.NaN;
  if (number === number) to.setNumber(row, number);
  const code = from.text?.codes[row] ?? -1;
  if (code >= 0) {
    const { table } = from.text as TextColumn;
    to.setText(row, table.bytes, table.offsets[code] as number, table.offsets[code + 1] as number);
  }
  const flag = from.flag?.values[row] ?? 2;
  if (flag !== 2) to.setFlag(row, flag === 1);
}

/** Gives the batch several attributes at once, each for the chosen rows only. */
export function withMade(batch: EventBatch, made: ReadonlyMap<string, AttributeColumns>, rows: Mask): EventBatch {
  const attributes = new Map(batch.attributes);
  for (const [name, columns] of made) {
    const overlaid = overlay(batch.attributes.get(name), columns, rows);
    if (overlaid) attributes.set(name, overlaid);
  }
  return { ...batch, attributes };
}

/** The columns of an attribute without the values of the chosen rows; undefined when nothing is left. */
export function without(columns: AttributeColumns, rows: Mask): AttributeColumns | undefined {
  if (!rows.includes(0)) return undefined;
  const { number, text, flag } = columns;
  return {
    ...(number && {
      number: { values: number.values.map((value, row) => (rows[row] === 1 ? Number.NaN : value)), unit: number.unit },
    }),
    ...(text && { text: { ...text, codes: text.codes.map((code, row) => (rows[row] === 1 ? -1 : code)) } }),
    ...(flag && { flag: { values: flag.values.map((value, row) => (rows[row] === 1 ? 2 : value)) } }),
  };
}

/** A unit as plans name it. */
export function unitOfType(type: string): Unit {
  return type === 'duration' || type === 'size' ? type : 'none';
}

/** Most distinct texts whose result is remembered in one run of a step. */
const mostRemembered = 10_000;

/** As {@link eachText}, but `read` is called once for each distinct text and `each` is given what it returned. */
export function eachDistinct<T>(
  batch: EventBatch,
  field: string,
  rows: Mask,
  read: (text: string) => T,
  each: (row: number, value: T) => void,
  missing: (row: number) => void,
): void {
  const known = new Map<string, T>();
  const lookUp = (text: string): T => {
    if (known.has(text)) return known.get(text) as T;
    const value = read(text);
    if (known.size < mostRemembered) known.set(text, value);
    return value;
  };
  const column = field === 'emitter' ? batch.emitter : batch.attributes.get(field)?.text;
  if (field === 'body' || !column?.unique) {
    eachText(batch, field, rows, (row, bytes, start, end) => each(row, lookUp(decode(bytes, start, end))), missing);
    return;
  }
  const byCode = new Array<{ readonly value: T } | undefined>(column.table.count);
  eachText(
    batch,
    field,
    rows,
    (row, bytes, start, end) => {
      const code = column.codes[row] as number;
      if (code < 0) return each(row, lookUp(decode(bytes, start, end)));
      let made = byCode[code];
      if (!made) byCode[code] = made = { value: read(decode(bytes, start, end)) };
      return each(row, made.value);
    },
    missing,
  );
}

/** Attributes that a step is filling. */
export class MadeAttributes {
  private readonly made = new Map<string, AttributeBuilder>();

  constructor(private readonly rows: number) {}

  /** The attribute of that name; it is begun when it is new. */
  get(name: string, unit: Unit = 'none'): AttributeBuilder {
    let builder = this.made.get(name);
    if (!builder) this.made.set(name, (builder = new AttributeBuilder(this.rows, unit)));
    return builder;
  }

  has(name: string): boolean {
    return this.made.has(name);
  }

  get count(): number {
    return this.made.size;
  }

  /** Gives what was filled to the batch, for the chosen rows. A row without a new value keeps the one that it had. */
  into(batch: EventBatch, rows: Mask): EventBatch {
    return withMade(batch, new Map([...this.made].map(([name, made]) => [name, made.columns(this.rows)])), rows);
  }
}

/** Most attributes with names from the events that one run of a step may add to a batch. */
export const mostNames = 200;

/** A name below a prefix: `query` and `page` give `query.page`; without a prefix the name alone. */
export function below(prefix: string | undefined, name: string): string {
  return prefix ? `${prefix}.${name}` : name;
}
