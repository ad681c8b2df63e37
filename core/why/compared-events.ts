import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { type KeyCodes, keyCodes } from '../summaries/key-codes.ts';
import type { Measure } from './measure.ts';

/** Events of one source and tier that are compared. */
export interface ComparedPart {
  readonly batch: EventBatch;
  /** 0: since the change. Others are of times before it, each of which lasts as long as that since it. */
  readonly period: number;
  /** For how many events of its time each row stands, besides its weight: more than one where some were looked at. */
  readonly standsFor: number;
  readonly context: ConditionContext & { readonly tier: string };
}

/** A field of compared events: a number for the value of each row, 0 for none that is told apart. */
export interface ComparedField {
  readonly name: string;
  readonly codes: Int32Array;
  /** Values by their number. */
  readonly values: readonly string[];
}

/** Events before a change and since it, as small numbers: any set of them is added up in one pass. */
export interface ComparedEvents {
  readonly rows: number;
  /** 0 for those since the change; else the number of a time before it, from 1 up to `periods`. */
  readonly period: Uint8Array;
  /** Times before the change. */
  readonly periods: number;
  /** For how many events a row stands, weights counted; those of before as a part of the mean of all times before. */
  readonly weight: Float64Array;
  readonly fields: readonly ComparedField[];
  /** What each row adds to the amounts of the measure, in the same proportion: one list for all rows at each place. */
  readonly amounts: readonly { readonly to: Int32Array; readonly values: Float64Array }[];
}

/** Most values of a field that are told apart, and most fields. */
export const mostValues = 4_000;
export const mostFields = 200;
/** A value that is rarer in a batch than one in so many rows is not told apart. */
const rarest = 4_000;

/** Fields that are no values of events but measure them. */
const measures: ReadonlySet<string> = new Set(['time', 'received', 'raw_bytes', 'body']);

/** Puts the parts side by side. What more than {@link mostFields} fields have is left out, the rarest first. */
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
  // What is measured accounts for itself.
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

/** What the codes of a batch are called among all parts; 0 for what is absent or too rare to be told apart. */
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
