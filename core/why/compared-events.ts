import type { EventBatch } from '../events/batch.ts';
import { type KeyCodes, keyCodes } from '../summaries/key-codes.ts';
import type { Measure, MeasureContext } from './measure.ts';

/** Events of one source and tier that are compared. */
export interface ComparedPart {
  readonly batch: EventBatch;
  /** 0: since the change; 1, 2, …: earlier periods of the same length. */
  readonly period: number;
  /** How many events of its period each row represents, in addition to its weight. */
  readonly standsFor: number;
  readonly context: MeasureContext & { readonly tier: string };
}

/** A field of compared events: a code for the value of each row, 0 for none or a rare one. */
export interface ComparedField {
  readonly name: string;
  readonly codes: Int32Array;
  /** Values by code. */
  readonly values: readonly string[];
}

/** Events before and since a change, encoded as integers, so that any subset can be summed in one pass. */
export interface ComparedEvents {
  readonly rows: number;
  /** 0 since the change, otherwise the number of an earlier period, 1 to `periods`. */
  readonly period: Uint8Array;
  /** Number of periods before the change. */
  readonly periods: number;
  /** How many events a row represents; for earlier periods divided by their number, so that sums are means. */
  readonly weight: Float64Array;
  readonly fields: readonly ComparedField[];
  /** What each row adds to the amounts of the measure, scaled in the same way. */
  readonly amounts: readonly { readonly to: Int32Array; readonly values: Float64Array }[];
}

/** Most values of a field that get a code, and most fields. */
export const mostValues = 4_000;
export const mostFields = 200;
/** A value that is rarer in a batch than 1 in this many rows gets no code. */
const rarest = 4_000;

/** Built-in fields that are measurements, not values. */
const measures: ReadonlySet<string> = new Set(['time', 'received', 'raw_bytes', 'body']);

/** Encodes all parts together. Beyond {@link mostFields} fields, the rarest are omitted. */
export function comparedEvents(parts: readonly ComparedPart[], measure: Measure): ComparedEvents {
  const rows = parts.reduce((sum, { batch }) => sum + batch.rows, 0);
  const period = new Uint8Array(rows);
  const periods = parts.reduce((most, part) => Math.max(most, part.period), 0);
  const weight = new Float64Array(rows);
  const amounts: { to: Int32Array; values: Float64Array }[] = [];
  let at = 0;
  for (const part of parts) {
    const { batch } = part;
    const standsFor = part.standsFor / (part.period === 0 ? 1 : periods);
    period.fill(part.period, at, at + batch.rows);
    for (let row = 0; row < batch.rows; row++) weight[at + row] = (batch.weight[row] as number) * standsFor;
    measure.amountsOf(batch, part.context).forEach(({ to, values }, i) => {
      amounts[i] ??= { to: new Int32Array(rows), values: new Float64Array(rows) };
      const into = amounts[i];
      if (typeof to === 'number') into.to.fill(to, at, at + batch.rows);
      else into.to.set(to, at);
      for (let row = 0; row < batch.rows; row++) into.values[at + row] = (values[row] as number) * standsFor;
    });
    at += batch.rows;
  }
  const fields = namesOf(parts, measure).map((name) => comparedField(name, parts, rows));
  return { rows, period, periods, weight, amounts, fields };
}

function namesOf(parts: readonly ComparedPart[], { fields }: Measure): readonly string[] {
  const counts = new Map<string, number>();
  for (const { batch } of parts)
    for (const name of batch.attributes.keys()) counts.set(name, (counts.get(name) ?? 0) + batch.rows);
  const attributes = [...counts].sort((a, b) => b[1] - a[1]).map(([name]) => name);
  // A measured field would explain itself.
  return ['source', 'tier', 'severity', 'emitter', 'shape', ...attributes]
    .filter((name) => !measures.has(name) && !fields.has(name.toLowerCase()))
    .slice(0, mostFields);
}

function comparedField(name: string, parts: readonly ComparedPart[], rows: number): ComparedField {
  const codes = new Int32Array(rows);
  const values: string[] = [''];
  const known = new Map<string, number>();
  let at = 0;
  for (const { batch, context } of parts) {
    const keys = keyCodes(batch, name, context.tier);
    const renamed = renamedCodes(keys, batch.rows, (value) => {
      const code = known.get(value);
      if (code !== undefined || values.length > mostValues) return code ?? 0;
      known.set(value, values.length);
      return values.push(value) - 1;
    });
    for (let row = 0; row < batch.rows; row++) codes[at + row] = renamed[codeOf(keys, row)] as number;
    at += batch.rows;
  }
  return { name, codes, values };
}

function codeOf({ codes, shift }: KeyCodes, row: number): number {
  return codes ? (codes[row] as number) + shift : 0;
}

/** Maps the codes of a batch to those of all parts; 0 for absent or rare values. */
function renamedCodes(keys: KeyCodes, rows: number, nameOf: (value: string) => number): Int32Array {
  const counts = new Int32Array(keys.count);
  for (let row = 0; row < rows; row++) {
    const code = codeOf(keys, row);
    counts[code] = (counts[code] as number) + 1;
  }
  const least = Math.max(1, rows / rarest);
  return counts.map((count, code) => {
    if (count < least) return 0;
    const value = keys.value(code);
    return value === null ? 0 : nameOf(value);
  });
}
