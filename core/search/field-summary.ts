import type { EventBatch } from '../events/batch.ts';
import { severityWord } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';
import type { Unit } from '../events/units.ts';
import {
  addToQuantiles,
  mergeQuantiles,
  newQuantileSketch,
  type QuantileSketch,
  quantile,
} from '../sketches/quantiles.ts';

/** Most different values counted one by one for a field; beyond it a field is "many values". */
const maxValues = 2_000;

/** What some events have in one field. Plain data. */
export interface FieldPartial {
  /** Events that have the field, weights counted. */
  present: number;
  readonly values: Map<string, number>;
  /** Whether values were left out because there were too many different ones. */
  many: boolean;
  numbers: QuantileSketch | undefined;
  unit: Unit;
  low: number;
  high: number;
}

/** What the found events have in common, for screens. */
export interface FieldSummary {
  readonly name: string;
  /** Share of the found events that have the field, 0 to 1. */
  readonly share: number;
  readonly distinct: number;
  readonly many: boolean;
  readonly top: readonly { readonly value: string; readonly count: number }[];
  readonly range?: {
    readonly low: number;
    readonly high: number;
    readonly p50: number;
    readonly p95: number;
    readonly unit: Unit;
    readonly bars: readonly number[];
  };
}

export type FieldPartials = Map<string, FieldPartial>;

function newField(): FieldPartial {
  return {
    present: 0,
    values: new Map(),
    many: false,
    numbers: undefined,
    unit: 'none',
    low: Number.POSITIVE_INFINITY,
    high: Number.NEGATIVE_INFINITY,
  };
}

/** Adds the chosen rows of a batch. */
export function addToFields(fields: FieldPartials, batch: EventBatch, rows: Int32Array): void {
  const field = (name: string): FieldPartial => {
    let field = fields.get(name);
    if (!field) fields.set(name, (field = newField()));
    return field;
  };
  const { weight } = batch;
  addConstant(field('source'), batch.source, weight, rows);
  addCounted(field('severity'), rows, weight, (row) => batch.severity[row] as number, severityWord);
  if (batch.emitter.table.count > 0) addText(field('emitter'), batch.emitter, rows, weight);
  for (const [name, columns] of batch.attributes) {
    if (columns.text) addText(field(name), columns.text, rows, weight);
    if (columns.number) addNumbers(field(name), columns.number.values, columns.number.unit, rows, weight);
    if (columns.flag) {
      const { values } = columns.flag;
      const flagged = rows.filter((row) => values[row] !== 2);
      if (flagged.length > 0)
        addCounted(
          field(name),
          flagged,
          weight,
          (row) => values[row] as number,
          (flag) => (flag === 1 ? 'true' : 'false'),
        );
    }
  }
}

function addConstant(field: FieldPartial, value: string, weight: Float32Array, rows: Int32Array): void {
  let sum = 0;
  for (let i = 0; i < rows.length; i++) sum += weight[rows[i] as number] as number;
  count(field, value, sum);
}

function count(field: FieldPartial, value: string, weight: number): void {
  field.present += weight;
  const count = field.values.get(value);
  if (count === undefined && field.values.size >= maxValues) field.many = true;
  else field.values.set(value, (count ?? 0) + weight);
}

function addCounted(
  field: FieldPartial,
  rows: Int32Array,
  weight: Float32Array,
  code: (row: number) => number,
  name: (code: number) => string,
): void {
  const sums = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    sums.set(code(row), (sums.get(code(row)) ?? 0) + (weight[row] as number));
  }
  for (const [value, sum] of sums) count(field, name(value), sum);
}

function addText(field: FieldPartial, column: EventBatch['emitter'], rows: Int32Array, weight: Float32Array): void {
  if (rows.length < column.table.count / 4) {
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i] as number;
      const code = column.codes[row] as number;
      if (code >= 0) count(field, textAt(column.table, code), weight[row] as number);
    }
    return;
  }
  const sums = new Float64Array(column.table.count);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const code = column.codes[row] as number;
    if (code >= 0) sums[code] = (sums[code] as number) + (weight[row] as number);
  }
  for (let code = 0; code < sums.length; code++) {
    const sum = sums[code] as number;
    if (sum > 0) count(field, textAt(column.table, code), sum);
  }
}

function addNumbers(
  field: FieldPartial,
  values: Float64Array,
  unit: Unit,
  rows: Int32Array,
  weight: Float32Array,
): void {
  const sums = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const value = values[row] as number;
    if (value !== value) continue;
    if (value < field.low) field.low = value;
    if (value > field.high) field.high = value;
    field.numbers ??= newQuantileSketch();
    addToQuantiles(field.numbers, value, weight[row] as number);
    sums.set(value, (sums.get(value) ?? 0) + (weight[row] as number));
  }
  if (unit !== 'none') field.unit = unit;
  for (const [value, sum] of sums) count(field, String(value), sum);
}

/** Adds all of `other` to `fields`. */
export function mergeFields(fields: FieldPartials, other: FieldPartials): void {
  for (const [name, from] of other) {
    const into = fields.get(name);
    if (!into) {
      fields.set(name, from);
      continue;
    }
    for (const [value, weight] of from.values) {
      const before = into.present;
      count(into, value, weight);
      into.present = before;
    }
    into.present += from.present;
    into.many ||= from.many;
    into.low = Math.min(into.low, from.low);
    into.high = Math.max(into.high, from.high);
    if (from.unit !== 'none') into.unit = from.unit;
    if (from.numbers) mergeQuantiles((into.numbers ??= newQuantileSketch()), from.numbers);
  }
}

const topLength = 8;
const barCount = 24;
/** A number with at most this many different values is shown by its values, like text. */
const fewNumbers = 12;

/** The fields of the found events, those that most events have first. `total` counts the events that were looked at. */
export function fieldSummaries(fields: FieldPartials, total: number): readonly FieldSummary[] {
  return (
    [...fields]
      // Batches may have columns that none of the chosen rows fills.
      .filter(([, { present }]) => present > 0)
      .map(([name, field]) => summarise(name, field, total))
      .sort((a, b) => b.share - a.share || a.distinct - b.distinct || a.name.localeCompare(b.name))
  );
}

function summarise(name: string, field: FieldPartial, total: number): FieldSummary {
  const top = [...field.values]
    .sort((a, b) => b[1] - a[1])
    .slice(0, topLength)
    .map(([value, weight]) => ({ value, count: weight }));
  const { numbers } = field;
  const ranged = numbers && (field.values.size > fewNumbers || field.many || field.unit !== 'none');
  return {
    name,
    share: total > 0 ? Math.min(1, field.present / total) : 0,
    distinct: field.values.size,
    many: field.many,
    top,
    ...(ranged && {
      range: {
        low: field.low,
        high: field.high,
        p50: quantile(numbers, 0.5),
        p95: quantile(numbers, 0.95),
        unit: field.unit,
        bars: bars(field, field.low, field.high),
      },
    }),
  };
}

function bars(field: FieldPartial, low: number, high: number): readonly number[] {
  const counts = new Array<number>(barCount).fill(0);
  for (const [text, weight] of field.values) {
    const place = high > low ? Math.floor(((Number(text) - low) / (high - low)) * barCount) : 0;
    const at = Math.min(barCount - 1, place);
    if (at >= 0) counts[at] = (counts[at] as number) + weight;
  }
  return counts;
}
