import { nthLargest } from './nth-largest.ts';

/**
 * The values that come most among any number of them, in little memory: counters of J. Misra and D. Gries, "Finding repeated
 * elements" (1982), with weights, cut in batches as in P. K. Agarwal et al., "Mergeable summaries" (2012). A
 * count is never too high, and too low by `missed` at most, which is at most the `total` divided by `most + 1`: a value that
 * has more than that is there. Plain data.
 */
export interface FrequentSketch {
  /** Counters that stay when it is cut. */
  readonly most: number;
  readonly counts: Map<string, number>;
  /** The weight of everything that was added. */
  total: number;
  /** By how much counts may be too low. */
  missed: number;
}

/** An empty sketch that keeps so many counters. */
export function newFrequentSketch(most: number): FrequentSketch {
  return { most, counts: new Map(), total: 0, missed: 0 };
}

/** Adds a value that came `weight` times. */
export function addToFrequent(sketch: FrequentSketch, value: string, weight: number): void {
  const { counts, most } = sketch;
  sketch.total += weight;
  counts.set(value, (counts.get(value) ?? 0) + weight);
  // Cut now and then only, so that cutting takes a moment for each value.
  if (counts.size > 2 * most + 64) cutFrequent(sketch);
}

/**
 * Adds many values at once, each of them once, by their weights; nothing for those that are not above zero. Of more than can
 * stay, those that would be cut are not even asked for their name (`nameOf`).
 */
export function addManyToFrequent(
  sketch: FrequentSketch,
  weights: Float64Array,
  nameOf: (place: number) => string,
): void {
  const { counts, most } = sketch;
  const off = weights.length > most ? Math.max(0, nthLargest(weights, most)) : 0;
  for (let i = 0; i < weights.length; i++) {
    const weight = weights[i] as number;
    if (!(weight > 0)) continue;
    sketch.total += weight;
    if (weight <= off) continue;
    const value = nameOf(i);
    counts.set(value, (counts.get(value) ?? 0) + weight - off);
  }
  sketch.missed += off;
  if (counts.size > 2 * most + 64) cutFrequent(sketch);
}

/**
 * Adds all of `other`. What comes of it misses at most what both did and what it is cut by itself, which is no more than
 * their totals divided by the smaller `most + 1`.
 */
export function mergeFrequent(sketch: FrequentSketch, other: FrequentSketch): void {
  const { counts, most } = sketch;
  for (const [value, count] of other.counts) counts.set(value, (counts.get(value) ?? 0) + count);
  sketch.total += other.total;
  sketch.missed += other.missed;
  if (counts.size > 2 * most + 64) cutFrequent(sketch);
}

/** Takes the count of the first value that is too many off all counts, and those out that have none left. */
export function cutFrequent(sketch: FrequentSketch): void {
  const { counts, most } = sketch;
  if (counts.size <= most) return;
  const off = nthLargest(Float64Array.from(counts.values()), most);
  for (const [value, count] of counts) {
    if (count > off) counts.set(value, count - off);
    else counts.delete(value);
  }
  sketch.missed += off;
}

/** The values that came most, at most `most` of them, the first first. A count is between `count` and `count + missed`. */
export function mostFrequent(
  { counts }: FrequentSketch,
  most: number,
): readonly { readonly value: string; readonly count: number }[] {
  return [...counts]
    .map(([value, count]) => ({ value, count }))
    .sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1))
    .slice(0, most);
}
