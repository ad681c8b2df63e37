import { spreadHash } from '../events/spread-hash.ts';

/** Values that a sample keeps at most. */
const mostKept = 8_192;

/**
 * A fair sample of different values, each with how many records had it: those whose hash falls below a bound that is halved
 * when they are too many (P. Flajolet, "On adaptive sampling", 1990; P. Gibbons, "Distinct sampling", 2001). From it follows
 * how many values came once, twice and so on among all. Plain data.
 */
export interface DistinctSample {
  /** Each kept value stands for 2^`halvings` values. */
  halvings: number;
  /** Records by the value's hash. */
  readonly kept: Map<number, number>;
}

/** A sample of no values. */
export function newDistinctSample(): DistinctSample {
  return { halvings: 0, kept: new Map() };
}

/** Adds records of a value, by its 32-bit hash. */
export function addToSample(sample: DistinctSample, hash: number, records = 1): void {
  const mixed = spreadHash(hash);
  if (mixed >= bound(sample)) return;
  sample.kept.set(mixed, (sample.kept.get(mixed) ?? 0) + records);
  while (sample.kept.size > mostKept) halve(sample);
}

/** Adds all of `other` to `sample`. */
export function mergeSamples(sample: DistinctSample, other: DistinctSample): void {
  while (sample.halvings < other.halvings) halve(sample);
  const below = bound(sample);
  for (const [mixed, records] of other.kept)
    if (mixed < below) sample.kept.set(mixed, (sample.kept.get(mixed) ?? 0) + records);
  while (sample.kept.size > mostKept) halve(sample);
}

function bound({ halvings }: DistinctSample): number {
  return 2 ** (32 - halvings);
}

function halve(sample: DistinctSample): void {
  sample.halvings++;
  const below = bound(sample);
  for (const mixed of sample.kept.keys()) if (mixed >= below) sample.kept.delete(mixed);
}
