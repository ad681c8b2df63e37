import type { EventBatch } from '../events/batch.ts';
import { valueAt } from '../events/columns.ts';
import { encode, hashBytes } from '../events/text-table.ts';
import { bucketOf, perDoubling } from '../sketches/quantiles.ts';
import { numbersOf } from '../summaries/gather-aggregate.ts';
import { columnsFor } from '../summaries/key-codes.ts';
import type { Aggregate, AggregateFunction } from '../summaries/summary.ts';

/** What the rows of a batch add to one amount each. */
export interface Amounts {
  /** The number of the amount, by row; for all rows where it is one number. */
  readonly to: Int32Array | number;
  /** How much, by row, weights counted; 0 for nothing. */
  readonly values: Float64Array;
}

/** Computes an aggregate from amounts that add up. */
export interface AmountKind {
  readonly width: number;
  readonly amounts: (batch: EventBatch, aggregate: Aggregate, base: number) => readonly Amounts[];
  readonly figure: (sums: Float64Array, aggregate: Aggregate) => number;
}

/** Slots of a histogram: sixteen to a doubling, from a millionth to 2^44; the first is for 0 and less. */
const slotsToDoubling = 16;
const histogramSlots = 1_024;
const lowestSlot = -20 * slotsToDoubling;

/** Slots for distinct values; the count is accurate to about 1 % up to as many values (linear counting, K.-Y. Whang and others 1990). */
const distinctSlots = 8_192;
/** Shifts a 32-bit hash down to a slot. */
const distinctShift = 19;

const counted: AmountKind = {
  width: 1,
  amounts: (batch, { field }, base) => [
    { to: base, values: field === undefined ? Float64Array.from(batch.weight) : weightOfPresent(batch, field) },
  ],
  figure: (sums) => sums[0] as number,
};

const summed: AmountKind = {
  width: 1,
  amounts: (batch, { field }, base) => [{ to: base, values: weighted(batch, field as string, (value) => value) }],
  figure: (sums) => sums[0] as number,
};

const averaged: AmountKind = {
  width: 2,
  amounts: (batch, { field }, base) => [
    { to: base, values: weighted(batch, field as string, (value) => value) },
    { to: base + 1, values: weighted(batch, field as string, () => 1) },
  ],
  figure: ([sum, count]) => (sum as number) / (count as number),
};

/** A percentile. */
export const ranked: AmountKind = {
  width: histogramSlots,
  amounts: (batch, { field }, base) => {
    const numbers = numbersOf(batch, field as string);
    const to = new Int32Array(batch.rows).fill(base);
    for (let row = 0; row < (numbers?.length ?? 0); row++) to[row] = base + slotOf(numbers?.[row] as number);
    return [{ to, values: weighted(batch, field as string, () => 1) }];
  },
  figure: (sums, { function: name }) => quantileOf(sums, name === 'median' ? 0.5 : Number(name.slice(1)) / 100),
};

const distinctCounted: AmountKind = {
  width: distinctSlots,
  amounts: (batch, { field }, base) => {
    const to = new Int32Array(batch.rows).fill(base);
    const values = new Float64Array(batch.rows);
    const columns = columnsFor(batch, field as string);
    for (let row = 0; columns && row < batch.rows; row++) {
      const value = valueAt(columns, row);
      if (value === undefined) continue;
      const bytes = encode(String(value));
      to[row] = base + (Math.imul(hashBytes(bytes, 0, bytes.length), 0x9e3779b1) >>> distinctShift);
      values[row] = batch.weight[row] as number;
    }
    return [{ to, values }];
  },
  figure: (sums) => {
    const empty = sums.reduce((count, sum) => count + (sum > tiny ? 0 : 1), 0);
    return distinctSlots * Math.log(distinctSlots / Math.max(1, empty));
  },
};

/** Rounding error of a sum from which everything was subtracted. */
const tiny = 1e-9;

/** By function; undefined for those that depend on a single event. */
export const amountKinds: Readonly<Record<AggregateFunction, AmountKind | undefined>> = {
  count: counted,
  rate: counted,
  sum: summed,
  avg: averaged,
  min: undefined,
  max: undefined,
  median: ranked,
  p50: ranked,
  p75: ranked,
  p90: ranked,
  p95: ranked,
  p99: ranked,
  distinct: distinctCounted,
  first: undefined,
  last: undefined,
};

function weightOfPresent(batch: EventBatch, field: string): Float64Array {
  const columns = columnsFor(batch, field);
  return Float64Array.from(batch.weight, (weight, row) =>
    columns && valueAt(columns, row) !== undefined ? weight : 0,
  );
}

function weighted(batch: EventBatch, field: string, of: (value: number) => number): Float64Array {
  const numbers = numbersOf(batch, field);
  return Float64Array.from(batch.weight, (weight, row) => {
    const value = numbers?.[row] ?? Number.NaN;
    return value - value === 0 ? weight * of(value) : 0;
  });
}

function slotOf(value: number): number {
  if (!(value > 0) || value === Number.POSITIVE_INFINITY) return 0;
  const slot = Math.floor((bucketOf(value) * slotsToDoubling) / perDoubling) - lowestSlot;
  return Math.min(histogramSlots - 1, Math.max(1, slot));
}

/** The value at a rank (0 to 1) of a histogram, interpolated within its slot; NaN if it is empty. */
function quantileOf(sums: Float64Array, rank: number): number {
  let total = 0;
  for (const sum of sums) total += Math.max(0, sum);
  if (total <= tiny) return Number.NaN;
  let left = rank * total;
  for (let slot = 0; slot < sums.length; slot++) {
    const sum = Math.max(0, sums[slot] as number);
    if (sum === 0 || left > sum) {
      left -= sum;
      continue;
    }
    return slot === 0 ? 0 : 2 ** ((slot + lowestSlot + left / sum) / slotsToDoubling);
  }
  return Number.NaN;
}
