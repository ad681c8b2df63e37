import type { Database } from '#store/database.ts';
import { listTape } from '#store/tape.ts';
import type { Pools } from '../workers/pools.ts';

/** The tape of the last day is used. */
export const tapeStretch = 86_400_000;
/** Chunks handed to a worker at a time. */
const chunksPerTask = 20;

/** A part of the tape. */
export interface TapePart {
  readonly chunks: readonly number[];
  /** For how many taped records each of these stands: more than one where only some chunks are read. */
  readonly standsFor: number;
}

/**
 * Goes over the tape of the last day up to `now` on all reading threads at once: `read` has a part read by a lane, `take`
 * gets what came of it and how far it is. Of a tape with more than `mostRecords` records, chunks from all over the day are
 * read and stand for the others. Throws once `signal` is aborted.
 */
export async function overTape<Part>(
  setting: {
    readonly database: Database;
    readonly pools: Pools;
    readonly now: number;
    readonly mostRecords: number;
    readonly signal?: AbortSignal;
  },
  read: (lane: number, part: TapePart) => Promise<Part>,
  take: (part: Part, done: number, all: number) => void,
): Promise<void> {
  const { database, pools, now, mostRecords, signal } = setting;
  const listed = await listTape(database, { from: now - tapeStretch, to: now });
  const used = spread(listed, mostRecords);
  const standsFor = used.length < listed.length ? records(listed) / records(used) : 1;
  let next = 0;
  let done = 0;
  const run = async (lane: number): Promise<void> => {
    while (next < used.length) {
      signal?.throwIfAborted();
      const chunks = used.slice(next, (next += chunksPerTask)).map(({ id }) => id);
      const part = await read(lane, { chunks, standsFor });
      done += chunks.length;
      take(part, done, used.length);
    }
  };
  await Promise.all(Array.from({ length: pools.readLanes }, (_, lane) => run(lane)));
}

function records(chunks: readonly { readonly lines: number }[]): number {
  return chunks.reduce((sum, { lines }) => sum + lines, 0);
}

/** Chunks that together hold at most about so many records, evenly spread over all. */
export function spread<Chunk extends { readonly lines: number }>(
  chunks: readonly Chunk[],
  mostRecords: number,
): readonly Chunk[] {
  const share = mostRecords / records(chunks);
  if (share >= 1) return chunks;
  // One is taken each time that the share adds up to a whole.
  return chunks.filter((_, index) => Math.floor((index + 1) * share) > Math.floor(index * share));
}
