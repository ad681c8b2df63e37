import { inflateRawSync } from 'node:zlib';
import { type TapedRecord, tapedRecords } from '#core/tape/taped.ts';
import type { TapeChunk } from '#store/tape.ts';

/** The records of a stored chunk. */
export function recordsOfChunk(chunk: Pick<TapeChunk, 'data'>): readonly TapedRecord[] {
  return tapedRecords(inflateRawSync(chunk.data).toString('utf8'));
}
