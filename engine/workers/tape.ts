import { inflateRawSync } from 'node:zlib';
import { type TapedRecord, tapedRecords } from '#core/tape/taped.ts';
import type { TapeChunk } from '#store/events/tape.ts';

/** A part of the tape, and what is needed to run plans and conditions over it. */
export interface TapePartTask {
  readonly chunks: readonly number[];
  /** For how many taped records each of these stands. */
  readonly standsFor: number;
  /** When each table that steps look values up in was last changed (milliseconds). */
  readonly tables: Readonly<Record<string, number>>;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

/** The records of a stored chunk. */
export function recordsOfChunk(chunk: Pick<TapeChunk, 'data'>): readonly TapedRecord[] {
  return tapedRecords(inflateRawSync(chunk.data).toString('utf8'));
}
