import {
  addToQuantiles,
  bucketOfWord,
  type ExponentialBuckets,
  mergeBuckets,
  newQuantileSketch,
  type QuantileSketch,
  upper,
} from './quantiles.ts';

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
