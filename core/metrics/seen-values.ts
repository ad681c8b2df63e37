import { addToSample, type DistinctSample, mergeSamples, newDistinctSample } from '../sketches/distinct-sample.ts';
import { type DistinctEstimate, estimateDistinct } from './series-estimate.ts';

/** Different values that were seen in some time, and in its first half alone. Plain data. */
export interface SeenValues {
  readonly all: DistinctSample;
  readonly early: DistinctSample;
}

/** Records in which values were seen, in all and in the first half, and the events that they stand for. */
export interface SeenRecords {
  readonly records: number;
  readonly events: number;
  readonly earlyRecords: number;
  readonly earlyEvents: number;
}

/** No values yet. */
export function newSeenValues(): SeenValues {
  return { all: newDistinctSample(), early: newDistinctSample() };
}

/** Adds records of a value by its 32-bit hash. */
export function seeValue(seen: SeenValues, hash: number, records: number, isEarly: boolean): void {
  addToSample(seen.all, hash, records);
  if (isEarly) addToSample(seen.early, hash, records);
}

/** Adds all of `other`. */
export function mergeSeen(seen: SeenValues, other: SeenValues): void {
  mergeSamples(seen.all, other.all);
  mergeSamples(seen.early, other.early);
}

/** How many different values there are in all of the time. */
export function countSeen({ all }: SeenValues, { records, events }: SeenRecords): DistinctEstimate {
  return estimateDistinct(all, shareOf(records, events));
}

/** Below this share of the records the first half says nothing of growth. */
const leastEarly = 0.15;

/**
 * The power of time by which the number of values grows: near 0 where all have come, 1 where each hour brings as many new
 * ones (the law of H. S. Heaps, "Information retrieval", 1978). It goes by how many there were in the first half; where that
 * has too few events, by the share of values that came once, which is the rate at which new ones come (I. J. Good, 1953).
 */
export function growthPower(seen: SeenValues, records: SeenRecords): number {
  const { likely } = countSeen(seen, records);
  if (likely === 0) return 0;
  if (records.earlyRecords < records.records * leastEarly) {
    let once = 0;
    for (const count of seen.all.kept.values()) if (count === 1) once++;
    return once / Math.max(1, seen.all.kept.size);
  }
  const early = estimateDistinct(seen.early, shareOf(records.earlyRecords, records.earlyEvents)).likely;
  // As far as the second half brought as many events as the first.
  const longer = Math.max(1.2, records.events / records.earlyEvents);
  return Math.min(1, Math.max(0, Math.log(likely / Math.max(1, early)) / Math.log(longer)));
}

function shareOf(records: number, events: number): number {
  return events > 0 ? Math.min(1, records / events) : 1;
}
