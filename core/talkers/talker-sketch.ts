import type { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { packNumbers, unpackNumbers } from '../metrics/pack-numbers.ts';
import {
  addToDistinct,
  type DistinctSketch,
  mergeDistinct,
  newDistinctSketch,
  packDistinct,
  unpackDistinct,
} from '../sketches/distinct.ts';
import {
  addManyToFrequent,
  cutFrequent,
  type FrequentSketch,
  mergeFrequent,
  newFrequentSketch,
} from '../sketches/frequent.ts';

/**
 * Who contributed most to some events, and how many did: in little memory, and to be merged with others of the same
 * ranking. Those who contributed are known by the id of their labels (`labelsId`). Plain data.
 */
export interface TalkerSketch {
  readonly frequent: FrequentSketch;
  readonly distinct: DistinctSketch;
  /** Of days: since when (milliseconds) those with a counter are in the ranking, without a week away. */
  readonly since?: ReadonlyMap<string, number>;
}

/** A sketch of nothing, with so many counters. */
export function newTalkerSketch(most: number): TalkerSketch {
  return { frequent: newFrequentSketch(most), distinct: newDistinctSketch() };
}

/** How those who contribute are named, by their place in a list. */
export interface ToldBy {
  /** The id of their labels. */
  readonly idOf: (place: number) => string;
  /** Hash (32 bits) of their labels: the same in every list. */
  readonly hashOf: (place: number) => number;
}

/** Adds what some contributed, each of them once; who did not contribute anything above zero is none of them. */
export function addTalkers(
  { frequent, distinct }: TalkerSketch,
  amounts: Float64Array,
  { idOf, hashOf }: ToldBy,
): void {
  for (let i = 0; i < amounts.length; i++) if ((amounts[i] as number) > 0) addToDistinct(distinct, hashOf(i));
  addManyToFrequent(frequent, amounts, idOf);
}

/** Adds all of `other`. */
export function mergeTalkers(sketch: TalkerSketch, other: TalkerSketch): void {
  mergeFrequent(sketch.frequent, other.frequent);
  mergeDistinct(sketch.distinct, other.distinct);
}

/** Writes a sketch, cut to its counters; `start` (milliseconds) is where what it covers begins. */
export function packTalkers(writer: NumberWriter, { frequent, distinct, since }: TalkerSketch, start: number): void {
  cutFrequent(frequent);
  // By falling counts, which are then small differences.
  const sorted = [...frequent.counts].sort((a, b) => b[1] - a[1]);
  writer.number(frequent.most);
  writer.number(frequent.total);
  writer.number(frequent.missed);
  writer.number(sorted.length);
  // One text for all is read much faster than many.
  writer.text(sorted.map(([id]) => id).join(''));
  for (const [id] of sorted) writer.number(id.length);
  packNumbers(
    writer,
    Float64Array.from(sorted, ([, count]) => count),
  );
  writer.number(since ? 1 : 0);
  if (since) for (const [id] of sorted) writer.number((start - (since.get(id) ?? start)) / sinceUnit);
  packDistinct(writer, distinct);
}

/** Since when someone is in a ranking is known to five minutes. */
const sinceUnit = 300_000;

/** Someone's counter in a sketch that was read. */
export interface ReadTalkers {
  readonly ids: readonly string[];
  /** At least so much each contributed; `missed` more at most. */
  readonly counts: Float64Array;
  readonly most: number;
  readonly total: number;
  readonly missed: number;
  /** Of days: since when (milliseconds) each is in the ranking. */
  readonly since: Float64Array | undefined;
  readonly distinct: DistinctSketch;
}

/** Reads what {@link packTalkers} wrote. */
export function readTalkers(reader: NumberReader, start: number): ReadTalkers {
  const [most, total, missed, count] = [reader.number(), reader.number(), reader.number(), reader.number()];
  const all = reader.text();
  let at = 0;
  const ids = Array.from({ length: count }, () => all.slice(at, (at += reader.number())));
  const counts = unpackNumbers(reader, count);
  const hasSince = reader.number() === 1;
  const since = hasSince ? Float64Array.from({ length: count }, () => start - reader.number() * sinceUnit) : undefined;
  return { ids, counts, most, total, missed, since, distinct: unpackDistinct(reader) };
}

/** What was read, to be added to. */
export function sketchOf({ ids, counts, most, total, missed, since, distinct }: ReadTalkers): TalkerSketch {
  const frequent: FrequentSketch = {
    ...{ most, total, missed },
    counts: new Map(ids.map((id, i) => [id, counts[i] as number])),
  };
  return {
    ...{ frequent, distinct },
    ...(since && { since: new Map(ids.map((id, i) => [id, since[i] as number])) }),
  };
}
