import type { NumberReader, NumberWriter } from '../events/number-bytes.ts';

/** Buckets to a doubling: each is 2^(1/32) times as wide as the one before, so a value is known to about 1.1 %. */
export const perDoubling = 32;

/** Most buckets of one side: all exponents of doubles. */
const mostBuckets = 2_200 * perDoubling;

/** A histogram of positive values: `counts[i]` belongs to bucket `offset + i`. */
export interface ExponentialBuckets {
  offset: number;
  counts: Float64Array;
}

/**
 * Quantiles of any number of values in little memory: an exponential histogram of base 2 at scale 5, as in the
 * OpenTelemetry metrics data model. Bucket `i` holds values above 2^(i/32) up to 2^((i+1)/32). Plain data, so that
 * it can be sent between threads.
 */
export interface QuantileSketch {
  total: number;
  zeros: number;
  readonly positive: ExponentialBuckets;
  readonly negative: ExponentialBuckets;
}

export function newQuantileSketch(): QuantileSketch {
  return {
    total: 0,
    zeros: 0,
    positive: { offset: 0, counts: new Float64Array(0) },
    negative: { offset: 0, counts: new Float64Array(0) },
  };
}

/** Where buckets begin within a doubling: above 2^(k/32). The last is the next doubling. */
const edges = Float64Array.from({ length: perDoubling + 1 }, (_, k) => 2 ** (k / perDoubling));

/** Cells of a doubling of which none holds more than one edge. */
const cells = 2048;
/** For each cell how many edges lie below its beginning. */
const edgesBelow = Uint8Array.from({ length: cells }, (_, cell) =>
  edges.reduce((count, edge) => count + (edge < 1 + cell / cells ? 1 : 0), 0),
);

/** The fraction of each edge, as far as it is in the upper half of a double. */
const edgeFractions = Uint32Array.from(edges, (edge) => Math.min(0x100000, Math.floor((edge - 1) * 0x100000)));

const double = new Float64Array(1);
const words = new Uint32Array(double.buffer);
/** Which of the two words of a double is its upper half: 0 or 1. */
export const upper = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1 ? 1 : 0;

/**
 * The bucket of a positive, finite value, read off the upper half of its double: exponent and the first 20 bits of the
 * fraction (IEEE 754). Values within a millionth of an edge may fall into the bucket below it.
 */
export function bucketOfWord(word: number): number {
  const below = edgesBelow[(word >>> 9) & (cells - 1)] as number;
  const isAbove = (word & 0xfffff) > (edgeFractions[below] as number);
  return ((word >>> 20) - 1023) * perDoubling + below - (isAbove ? 0 : 1);
}

/** The bucket of a positive, finite value. */
export function bucketOf(value: number): number {
  double[0] = value;
  return bucketOfWord(words[upper] as number);
}

/** Adds a value that stands for `weight` values; one that is not finite is passed over. */
export function addToQuantiles(sketch: QuantileSketch, value: number, weight: number): void {
  if (value - value !== 0) return;
  sketch.total += weight;
  if (value > 0) addToBucket(sketch.positive, bucketOf(value), weight);
  else if (value < 0) addToBucket(sketch.negative, bucketOf(-value), weight);
  else sketch.zeros += weight;
}

function addToBucket(buckets: ExponentialBuckets, bucket: number, weight: number): void {
  const at = bucket - buckets.offset;
  if (at >= 0 && at < buckets.counts.length) {
    buckets.counts[at] = (buckets.counts[at] as number) + weight;
    return;
  }
  const { length } = buckets.counts;
  const low = length === 0 ? bucket - 8 : Math.min(bucket, buckets.offset);
  const high = length === 0 ? bucket + 8 : Math.max(bucket, buckets.offset + length - 1) + 8;
  const counts = new Float64Array(high - low + 1);
  if (length > 0) counts.set(buckets.counts, buckets.offset - low);
  counts[bucket - low] = (counts[bucket - low] as number) + weight;
  buckets.offset = low;
  buckets.counts = counts;
}

/** Adds all of `other` to `sketch`. */
export function mergeQuantiles(sketch: QuantileSketch, other: QuantileSketch): void {
  sketch.total += other.total;
  sketch.zeros += other.zeros;
  mergeBuckets(sketch.positive, other.positive);
  mergeBuckets(sketch.negative, other.negative);
}

/** Adds the counts of `other` buckets to `into`. */
export function mergeBuckets(
  into: ExponentialBuckets,
  { offset, counts }: { readonly offset: number; readonly counts: Float64Array | Uint32Array },
): void {
  if (counts.length === 0) return;
  if (into.counts.length === 0) {
    into.offset = offset;
    into.counts = new Float64Array(counts);
    return;
  }
  // Room at both ends, of nothing.
  addToBucket(into, offset, 0);
  addToBucket(into, offset + counts.length - 1, 0);
  const shift = offset - into.offset;
  const sums = into.counts;
  for (let i = 0; i < counts.length; i++) sums[shift + i] = (sums[shift + i] as number) + (counts[i] as number);
}

/** The value below which the share `q` (0 to 1) of all values is; `NaN` of no values. */
export function quantile(sketch: QuantileSketch, q: number): number {
  if (sketch.total === 0) return Number.NaN;
  let left = q * sketch.total;
  const { positive, negative } = sketch;
  for (let i = negative.counts.length - 1; i >= 0; i--) {
    left -= negative.counts[i] as number;
    if (left < 0) return -middle(negative.offset + i);
  }
  left -= sketch.zeros;
  if (left < 0) return 0;
  let last = 0;
  for (let i = 0; i < positive.counts.length; i++) {
    const count = positive.counts[i] as number;
    if (count === 0) continue;
    last = middle(positive.offset + i);
    left -= count;
    if (left < 0) return last;
  }
  return last;
}

/** The value in the middle of a bucket, by ratio: at most 1.1 % from every value in it. */
function middle(bucket: number): number {
  return 2 ** ((bucket + 0.5) / perDoubling);
}

/** Writes a sketch: zeros, then the counts of both sides from the first bucket that holds any to the last. */
export function packQuantiles(writer: NumberWriter, { total, zeros, positive, negative }: QuantileSketch): void {
  writer.number(total);
  writer.number(zeros);
  packBuckets(writer, positive);
  packBuckets(writer, negative);
}

/** Reads what {@link packQuantiles} wrote. */
export function unpackQuantiles(reader: NumberReader): QuantileSketch {
  return {
    total: reader.number(),
    zeros: reader.number(),
    positive: unpackBuckets(reader),
    negative: unpackBuckets(reader),
  };
}

/** Buckets in which nothing fell are written as how many there are in a row, as a negative number. */
function packBuckets(writer: NumberWriter, { offset, counts }: ExponentialBuckets): void {
  let from = 0;
  let to = counts.length;
  while (from < to && counts[from] === 0) from++;
  while (to > from && counts[to - 1] === 0) to--;
  writer.number(to - from);
  if (from === to) return;
  writer.number(offset + from);
  for (let i = from; i < to; ) {
    const start = i;
    while (counts[i] === 0) i++;
    if (i > start) writer.number(start - i);
    else writer.number(counts[i++] as number);
  }
}

function unpackBuckets(reader: NumberReader): ExponentialBuckets {
  const length = Math.min(reader.number(), mostBuckets);
  if (length <= 0) return { offset: 0, counts: new Float64Array(0) };
  const offset = reader.number();
  const counts = new Float64Array(length);
  for (let i = 0; i < length; ) {
    const value = reader.number();
    if (value < 0) i -= value;
    // What is cut off reads as zeros.
    else counts[i++] = value;
  }
  return { offset, counts };
}
