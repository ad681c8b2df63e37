import { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { minute } from '../events/time-units.ts';
import type { TalkerAccumulator } from './talker-accumulator.ts';
import { fiveMinutes, type TalkerLevel, talkerLevels } from './talker-levels.ts';
import { packTalkers, type ReadTalkers, readTalkers } from './talker-sketch.ts';

/** What a group of events brought for a ranking; it says all that is needed to put it where it belongs. */
export interface TalkerDelta {
  readonly ranking: string;
  /** What it counts (`countsOf`). */
  readonly counts: string;
  readonly slots: readonly { readonly level: TalkerLevel; readonly start: number; readonly talkers: ReadTalkers }[];
}

/** Writes what a group brought for rankings, for the store. */
export function packTalkerDeltas(accumulators: readonly TalkerAccumulator[]): Uint8Array<ArrayBuffer> {
  const writer = new NumberWriter();
  writer.number(accumulators.length);
  for (const { ranking, slots } of accumulators) {
    writer.text(ranking.id);
    writer.text(ranking.counts);
    writer.number(slots.length);
    for (const { level, start, sketch } of slots) {
      writer.number(level.level);
      writer.number(start / minute);
      packTalkers(writer, sketch, start);
    }
  }
  return writer.bytes();
}

/** Reads what {@link packTalkerDeltas} wrote. */
export function unpackTalkerDeltas(bytes: Uint8Array): readonly TalkerDelta[] {
  const reader = new NumberReader(bytes);
  return Array.from({ length: reader.number() }, () => {
    const ranking = reader.text();
    const counts = reader.text();
    const slots = Array.from({ length: reader.number() }, () => {
      const level = talkerLevels[reader.number()] ?? fiveMinutes;
      const start = reader.number() * minute;
      return { level, start, talkers: readTalkers(reader, start) };
    });
    return { ranking, counts, slots };
  });
}
