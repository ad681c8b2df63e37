import { sharedCountUp } from '../events/select.ts';
import {
  addToQuantiles,
  bucketOfWord,
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
  /** Set where it is known that each stands for one. */
  readonly unweighted?: boolean | undefined;
}

/** Most counts that are gathered in one table. */
const largestTable = 1 << 20;

let sums = new Float64Array(0);
let ones = new Uint32Array(0);

/** The table in which weights are added up: one and the same, since fresh memory costs more than what is written to it. */
function emptySums(size: number): Float64Array {
  if (size > sums.length) sums = new Float64Array(Math.max(size, sums.length * 2));
  return sums.fill(0, 0, size);
}

/** As {@link emptySums}, for values that stand for one each: half as large, it stays nearer to the processor. */
function emptyCounts(size: number): Uint32Array {
  if (size > ones.length) ones = new Uint32Array(Math.max(size, ones.length * 2));
  return ones.fill(0, 0, size);
}

/** Adds the values of rows to the sketches of their groups, which are made where they are missing. */
export function addGroups(sketches: (QuantileSketch | undefined)[], grouped: GroupedValues): void {
  const { groups, count, rows, values, weight } = grouped;
  const halves = upperHalves(values);
  const { first, width, others } = spanOf(halves, rows);
  const isTabled = width > 0 && width * count <= largestTable;
  if (isTabled) addByTable(sketches, grouped, { first, width, halves });
  const left = isTabled ? others : sharedCountUp(rows.length);
  for (let k = 0; k < left.length; k++) {
    const i = left[k] as number;
    const row = rows[i] as number;
    const value = values[row] as number;
    if (value - value !== 0) continue;
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

/** The buckets of the plain values of some rows, from `first` on, and the places among the rows of values that are not plain. */
interface Span {
  readonly first: number;
  readonly width: number;
  readonly others: Int32Array;
}

let otherPlaces = new Int32Array(0);

function spanOf(halves: Uint32Array, rows: Int32Array): Span {
  if (rows.length > otherPlaces.length) otherPlaces = new Int32Array(Math.max(rows.length, otherPlaces.length * 2));
  const places = otherPlaces;
  let count = 0;
  let low = 0xffffffff;
  let high = 0;
  for (let i = 0; i < rows.length; i++) {
    const word = halves[2 * (rows[i] as number)] as number;
    if (!isPlain(word)) places[count++] = i;
    else {
      if (word < low) low = word;
      if (word > high) high = word;
    }
  }
  const others = places.subarray(0, count);
  if (high === 0) return { first: 0, width: 0, others };
  const first = bucketOfWord(low);
  return { first, width: bucketOfWord(high) - first + 1, others };
}

type TableOf = Omit<Span, 'others'> & { readonly halves: Uint32Array };

/** Counts plain values, bucket by bucket, in one table for all groups. */
function addByTable(sketches: (QuantileSketch | undefined)[], grouped: GroupedValues, span: TableOf): void {
  const { count } = grouped;
  const { first, width } = span;
  const table = grouped.unweighted ? countedOnes(grouped, span) : addedWeights(grouped, span);
  for (let group = 0; group < count; group++) {
    const counts = table.subarray(group * width, (group + 1) * width);
    addTable(sketches, group, { offset: first, counts });
  }
}

function addedWeights({ groups, count, rows, weight }: GroupedValues, { first, width, halves }: TableOf): Float64Array {
  const table = emptySums(width * count);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const word = halves[2 * row] as number;
    if (!isPlain(word)) continue;
    const place = Math.imul(groups[i] as number, width) + bucketOfWord(word) - first;
    table[place] = (table[place] as number) + (weight[row] as number);
  }
  return table;
}

function countedOnes({ groups, count, rows }: GroupedValues, { first, width, halves }: TableOf): Uint32Array {
  const table = emptyCounts(width * count);
  for (let i = 0; i < rows.length; i++) {
    const word = halves[2 * (rows[i] as number)] as number;
    if (!isPlain(word)) continue;
    const place = Math.imul(groups[i] as number, width) + bucketOfWord(word) - first;
    table[place] = (table[place] as number) + 1;
  }
  return table;
}

/** Adds counts of positive values to the sketch of a group. */
function addTable(
  sketches: (QuantileSketch | undefined)[],
  group: number,
  { offset, counts }: { readonly offset: number; readonly counts: Float64Array | Uint32Array },
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
