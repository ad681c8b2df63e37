/** Buckets to a doubling: each is 2^(1/32) times as wide as the one before, so a value is known to about 1.1 %. */
const perDoubling = 32;

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

/** The fraction of each edge, as far as it stands in the upper half of a double. */
const edgeFractions = Uint32Array.from(edges, (edge) => Math.min(0x100000, Math.floor((edge - 1) * 0x100000)));

const double = new Float64Array(1);
const words = new Uint32Array(double.buffer);
/** Which of the two words of a double is its upper half. */
const upper = new Uint8Array(Uint16Array.of(1).buffer)[0] === 1 ? 1 : 0;

/**
 * The bucket of a positive, finite value, read off the upper half of its double: exponent and the first 20 bits of the
 * fraction (IEEE 754). Values within a millionth of an edge may fall into the bucket below it.
 */
function bucketOfWord(word: number): number {
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

function mergeBuckets(into: ExponentialBuckets, { offset, counts }: ExponentialBuckets): void {
  if (counts.length === 0) return;
  if (into.counts.length === 0) {
    into.offset = offset;
    into.counts = counts.slice();
    return;
  }
  // Room at both ends, of nothing.
  addToBucket(into, offset, 0);
  addToBucket(into, offset + counts.length - 1, 0);
  const shift = offset - into.offset;
  const sums = into.counts;
  for (let i = 0; i < counts.length; i++) sums[shift + i] = (sums[shift + i] as number) + (counts[i] as number);
}

/** Values of rows, and what they belong to. */
export interface GroupedValues {
  /** `groups[i]` is the group of row `rows[i]`, from 0 up to, not including, `count`. */
  readonly groups: Int32Array;
  readonly count: number;
  readonly rows: Int32Array;
  /** By row; what is not finite is passed over. */
  readonly values: Float64Array;
  /** By row: how many values each stands for. */
  readonly weight: Float32Array;
}

/** Most counts that are gathered in one table. */
const largestTable = 1 << 20;

const nothing = new Float64Array(0);
let table = nothing;

/** The table in which counts are gathered: one and the same, since fresh memory costs more than what is written to it. */
function emptyTable(size: number): Float64Array {
  if (size > table.length) table = new Float64Array(Math.max(size, table.length * 2));
  return table.fill(0, 0, size);
}

/** Adds the values of rows to the sketches of their groups, which are made where they are missing. */
export function addGroups(sketches: (QuantileSketch | undefined)[], grouped: GroupedValues): void {
  const { groups, count, rows, values, weight } = grouped;
  const halves = upperHalves(values);
  const { first, width, others } = spanOf(halves, rows);
  const isTabled = width > 0 && width * count <= largestTable;
  if (isTabled) addByTable(sketches, grouped, { first, width, halves });
  if (isTabled && !others) return;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const value = values[row] as number;
    if (value - value !== 0 || (isTabled && isPlain(halves[2 * row] as number))) continue;
    addToQuantiles((sketches[groups[i] as number] ??= newQuantileSketch()), value, weight[row] as number);
  }
}

/** The upper halves of doubles: that of row `i` is entry `2 * i`. */
function upperHalves(values: Float64Array): Uint32Array {
  const halves = new Uint32Array(values.buffer, values.byteOffset, values.length * 2);
  return upper === 0 ? halves : halves.subarray(1);
}

/** Whether a double is positive, finite and not among the very smallest, by its upper half. */
function isPlain(word: number): boolean {
  return (word - 0x100000) >>> 0 < 0x7fe00000;
}

/** The buckets of the plain values of some rows, from `first` on, and whether there are values that are not plain. */
interface Span {
  readonly first: number;
  readonly width: number;
  readonly others: boolean;
}

function spanOf(halves: Uint32Array, rows: Int32Array): Span {
  let low = 0xffffffff;
  let high = 0;
  let others = false;
  for (let i = 0; i < rows.length; i++) {
    const word = halves[2 * (rows[i] as number)] as number;
    if (!isPlain(word)) others = true;
    else {
      if (word < low) low = word;
      if (word > high) high = word;
    }
  }
  if (high === 0) return { first: 0, width: 0, others };
  const first = bucketOfWord(low);
  return { first, width: bucketOfWord(high) - first + 1, others };
}

/** Counts plain values, bucket by bucket, in one table for all groups. */
function addByTable(
  sketches: (QuantileSketch | undefined)[],
  { groups, count, rows, weight }: GroupedValues,
  { first, width, halves }: Omit<Span, 'others'> & { readonly halves: Uint32Array },
): void {
  const counts = emptyTable(width * count);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const word = halves[2 * row] as number;
    if (!isPlain(word)) continue;
    const place = Math.imul(groups[i] as number, width) + bucketOfWord(word) - first;
    counts[place] = (counts[place] as number) + (weight[row] as number);
  }
  for (let group = 0; group < count; group++) {
    const of = counts.subarray(group * width, (group + 1) * width);
    addTable(sketches, group, { offset: first, counts: of });
  }
}

/** Adds counts of positive values to the sketch of a group. */
function addTable(
  sketches: (QuantileSketch | undefined)[],
  group: number,
  { offset, counts }: ExponentialBuckets,
): void {
  let from = 0;
  let to = counts.length;
  while (from < to && counts[from] === 0) from++;
  while (to > from && counts[to - 1] === 0) to--;
  if (from === to) return;
  const sketch = (sketches[group] ??= newQuantileSketch());
  for (let i = from; i < to; i++) sketch.total += counts[i] as number;
  mergeBuckets(sketch.positive, { offset: offset + from, counts: counts.subarray(from, to) });
}

/** The value below which the share `q` (0 to 1) of all values lies; `NaN` of no values. */
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
