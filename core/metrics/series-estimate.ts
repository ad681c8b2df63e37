import type { DistinctSample } from '../sketches/distinct-sample.ts';

/** How many different values there are, by a sample of records. */
export interface DistinctEstimate {
  readonly likely: number;
  /** What it is at least and at most. */
  readonly least: number;
  readonly most: number;
}

/**
 * How many different values came, of which a sample holds those that were in a share of the records (`share`, above 0 up to
 * 1). Where values come about equally often, it goes by the coverage of the sample ({@link byCoverage}); where some come far
 * more often than others, by how the number of values grew with the records ({@link byGrowth}); between the two by how far
 * their frequencies are from equal. At least it is what was seen; at most each value that was seen once stands for all that
 * its record stands for.
 */
export function estimateDistinct({ kept, halvings }: DistinctSample, share: number): DistinctEstimate {
  const each = 2 ** halvings;
  const seen = kept.size * each;
  const counts = [...kept.values()];
  const once = counts.filter((records) => records === 1).length;
  if (share >= 1 || once === 0) return { likely: seen, least: seen, most: seen };
  const most = seen + once * each * (1 / share - 1);
  const uneven = Math.min(mostByGrowth, Math.max(0, (unevenness(counts) - 1) / 1.5));
  const likely = byGrowth(counts, share) ** uneven * byCoverage(counts, share) ** (1 - uneven);
  return { likely: Math.min(most, likely * each), least: seen, most };
}

/** How far growth counts where frequencies are not equal at all: it errs upwards, coverage downwards. */
const mostByGrowth = 0.9;

/** How many values came three times or more, as a part of what it would be if all came equally often; 1 where they do. */
function unevenness(counts: readonly number[]): number {
  const once = counts.filter((records) => records === 1).length;
  const twice = counts.filter((records) => records === 2).length;
  const rate = (2 * Math.max(1, twice)) / once;
  const none = Math.exp(-rate);
  const expected = (once / (none * rate)) * (1 - none * (1 + rate + rate ** 2 / 2));
  return (counts.length - once - twice) / Math.max(1, expected);
}

/** Values with at most so many records are rare: what is not seen is like them. */
const rareUpTo = 10;

/**
 * By the coverage of rare values and how their frequencies vary: A. Chao, S.-M. Lee, "Estimating the number of classes via
 * sample coverage" (1992), for a finite number of records.
 */
function byCoverage(counts: readonly number[], share: number): number {
  const times = new Float64Array(rareUpTo + 1);
  for (const records of counts) if (records <= rareUpTo) times[records] = (times[records] as number) + 1;
  const once = times[1] as number;
  const rare = times.reduce((sum, count) => sum + count, 0);
  const records = times.reduce((sum, count, k) => sum + k * count, 0);
  const pairs = times.reduce((sum, count, k) => sum + k * (k - 1) * count, 0);
  const coverage = Math.max(1 - once / records, 1 / records);
  const variation = Math.max(0, (rare / coverage) * (pairs / Math.max(1, records * (records - 1))) - 1);
  const unseen = rare / coverage - rare + (once / coverage) * variation;
  // The fewer records are left out, the fewer values are.
  return counts.length + unseen * (1 - share);
}

/**
 * By the law of H. S. Heaps, "Information retrieval" (1978), that the number of values grows as a power of the records. How
 * the power falls is read off a half and a quarter of the sample (rarefaction: S. H. Hurlbert, 1971), and goes on so.
 */
function byGrowth(counts: readonly number[], share: number): number {
  const within = (part: number): number => counts.reduce((sum, records) => sum + 1 - (1 - part) ** records, 0);
  const [quarter, half] = [within(0.25), within(0.5)];
  const power = Math.log2(counts.length / half);
  const fall = Math.min(1, power / Math.log2(half / quarter));
  let doublings = Math.log2(1 / share);
  let grown = Math.log2(counts.length);
  for (let next = power * fall; doublings > 0; next *= fall, doublings--) grown += next * Math.min(1, doublings);
  return 2 ** grown;
}
