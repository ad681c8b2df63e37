import type { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { narrowed } from '../segments/narrow-numbers.ts';

/** Whole multiples of a power of a tenth are written by differences of this order at most. */
const highestOrder = 2;
/** Differences of differences of whole numbers below this are exact. */
const mostWhole = 2 ** 48;

const double = new Float64Array(1);
const halves = new Uint32Array(double.buffer);

/**
 * Writes numbers that are like their neighbours in few bytes. Decimals of few places are whole multiples of a power of a
 * tenth (as in `narrowed`) and are written as they are, as differences, or as differences of differences, whichever is
 * shortest; other numbers as what differs from the bits of the one before. Both after T. Pelkonen et al., "Gorilla: a fast,
 * scalable, in-memory time series database" (2015), with groups of seven bits instead of single ones.
 */
export function packNumbers(writer: NumberWriter, values: Float64Array): void {
  const whole = wholeMultiples(values);
  if (!whole) {
    writer.number(0);
    packBits(writer, values);
    return;
  }
  const { scale } = whole;
  const orders = [whole.values];
  while (orders.length <= highestOrder) orders.push(differences(orders.at(-1) as Float64Array));
  const lengths = orders.map(lengthOf);
  const order = lengths.indexOf(Math.min(...lengths));
  writer.number(1 + order);
  writer.number(scale);
  for (const value of orders[order] as Float64Array) writer.number(value);
}

/** Reads so many numbers as {@link packNumbers} wrote them. */
export function unpackNumbers(reader: NumberReader, count: number): Float64Array {
  const way = reader.number();
  if (way === 0) return unpackBits(reader, count);
  const scale = reader.number();
  const values = new Float64Array(count);
  for (let i = 0; i < count; i++) values[i] = reader.number();
  for (let order = way - 1; order > 0; order--)
    for (let i = 1; i < count; i++) values[i] = (values[i] as number) + (values[i - 1] as number);
  if (scale !== 1) for (let i = 0; i < count; i++) values[i] = (values[i] as number) / scale;
  return values;
}

/** The numbers as whole multiples of one part in `scale`; undefined where they are none, or too large for differences. */
function wholeMultiples(values: Float64Array): { readonly values: Float64Array; readonly scale: number } | undefined {
  if (values.some((value) => Object.is(value, -0))) return undefined;
  const { values: narrow, scale } = narrowed(values);
  if (!(narrow instanceof Float64Array)) return { values: Float64Array.from(narrow), scale };
  return values.every((value) => Number.isInteger(value) && Math.abs(value) < mostWhole)
    ? { values, scale: 1 }
    : undefined;
}

function differences(values: Float64Array): Float64Array {
  return values.map((value, i) => value - (i === 0 ? 0 : (values[i - 1] as number)));
}

/** About how many bytes whole numbers take. */
function lengthOf(values: Float64Array): number {
  return values.reduce((sum, value) => sum + Math.floor(Math.log2(Math.abs(value) * 2 + 1) / 7) + 1, 0);
}

function packBits(writer: NumberWriter, values: Float64Array): void {
  let low = 0;
  let high = 0;
  for (const value of values) {
    double[0] = value;
    writer.number(((halves[0] as number) ^ low) >>> 0);
    writer.number(((halves[1] as number) ^ high) >>> 0);
    low = halves[0] as number;
    high = halves[1] as number;
  }
}

function unpackBits(reader: NumberReader, count: number): Float64Array {
  const values = new Float64Array(count);
  const words = new Uint32Array(values.buffer);
  let low = 0;
  let high = 0;
  for (let i = 0; i < count; i++) {
    low = (low ^ reader.number()) >>> 0;
    high = (high ^ reader.number()) >>> 0;
    words[2 * i] = low;
    words[2 * i + 1] = high;
  }
  return values;
}
