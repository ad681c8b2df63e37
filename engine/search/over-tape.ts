import { day } from '#core/events/time-units.ts';
import { evenShare } from '#core/sketches/even-share.ts';
import { byTurns } from '#core/tape/by-turns.ts';
import type { Database } from '#store/database.ts';
import { listTape } from '#store/events/tape.ts';
import type { Pools } from '../workers/pools.ts';

/** The tape of the last day is used. */
export const tapeStretch = day;
/** Most records that a rehearsal reads. */
export const rehearsedRecords = 400_000;
/** About how many records a worker gets at a time, and the most chunks. */
const recordsPerTask = 3_000;
const chunksPerTask = 500;

/** A part of the tape, all of one source. */
export interface TapePart {
  readonly source: string;
  readonly chunks: readonly number[];
  /** For how many taped records each of these stands: more than one where only some chunks are read. */
  readonly standsFor: number;
}

/** Progress over the tape, in chunks: in total and by source. */
export interface TapeProgress {
  readonly done: number;
  readonly all: number;
  /** The share of a source that was read, 0 to 1. */
  readonly shareRead: (source: string) => number;
}

/**
 * Goes over the tape of the last day up to `now` on all reading threads at once: `read` has a part read by a lane, `take`
 * gets what came of it and how far it is; all sources
 * come from the beginning on, by turns. Of a tape with more than `mostRecords` records, chunks from all over the day are
 * read and stand for the others of their source. Throws once `signal` is aborted.
 */
export async function overTape<Part>(
  setting: {
    readonly database: Database;
    readonly pools: Pick<Pools, 'readLanes'>;
    readonly now: number;
    readonly mostRecords: number;
    /** Whose tape it is; absent: that of all sources. */
    readonly source?: string;
    /** The start of the stretch (milliseconds), at most a day ago; default: a day ago. */
    readonly from?: number;
    /** Of which sources it is read; absent: of all. */
    readonly isWanted?: (source: string) => boolean;
    readonly signal?: AbortSignal;
  },
  read: (lane: number, part: TapePart) => Promise<Part>,
  take: (part: Part, progress: TapeProgress) => void,
): Promise<void> {
  const { database, pools, now, mostRecords, source, isWanted, signal } = setting;
  const from = Math.max(now - tapeStretch, setting.from ?? 0);
  const listed = await listTape(database, { from, to: now }, source);
  const wanted = new Map(
    [...new Set(listed.map((chunk) => chunk.source))].map((name) => [name, isWanted?.(name) ?? true]),
  );
  const parts = byTurns(
    tapeParts(
      listed.filter((chunk) => wanted.get(chunk.source)),
      mostRecords,
    ),
    ({ source: name }) => name,
  );
  const chunksOf = countedBySource(parts);
  const readChunks = new Map<string, number>();
  const shareRead = (source: string): number => (readChunks.get(source) ?? 0) / (chunksOf.get(source) ?? 1);
  const all = parts.reduce((sum, { chunks }) => sum + chunks.length, 0);
  let next = 0;
  let done = 0;
  const run = async (lane: number): Promise<void> => {
    for (let part = parts[next++]; part; part = parts[next++]) {
      signal?.throwIfAborted();
      const found = await read(lane, part);
      done += part.chunks.length;
      readChunks.set(part.source, (readChunks.get(part.source) ?? 0) + part.chunks.length);
      take(found, { done, all, shareRead });
    }
  };
  await Promise.all(Array.from({ length: pools.readLanes }, (_, lane) => run(lane)));
}

function countedBySource(parts: readonly TapePart[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>();
  for (const { source, chunks } of parts) counts.set(source, (counts.get(source) ?? 0) + chunks.length);
  return counts;
}

/** A chunk of the tape, by what is known of it without reading it. */
interface ListedChunk {
  readonly id: number;
  readonly source: string;
  readonly lines: number;
}

/**
 * The parts of a tape that are read. Where it has more than `mostRecords` records, each source is read as far as its share
 * of all goes, one chunk at least, and stands for itself alone (stratified sampling): how much each source sends is then as
 * exact as the tape is.
 */
export function tapeParts(listed: readonly ListedChunk[], mostRecords: number): readonly TapePart[] {
  const share = Math.min(1, mostRecords / Math.max(1, records(listed)));
  const bySource = new Map<string, ListedChunk[]>();
  for (const chunk of listed) {
    const list = bySource.get(chunk.source);
    if (list) list.push(chunk);
    else bySource.set(chunk.source, [chunk]);
  }
  return [...bySource].flatMap(([source, list]) => {
    const some = spread(list, share * records(list));
    const used = some.length > 0 ? some : list.slice(list.length >> 1, (list.length >> 1) + 1);
    const standsFor = records(list) / records(used);
    return tasksOf(used).map((task) => ({ source, chunks: task.map(({ id }) => id), standsFor }));
  });
}

/** Splits chunks into tasks, in their order. */
function tasksOf(chunks: readonly ListedChunk[]): readonly (readonly ListedChunk[])[] {
  const tasks: ListedChunk[][] = [];
  let room = 0;
  for (const chunk of chunks) {
    const last = tasks.at(-1);
    if (last && room > 0 && last.length < chunksPerTask) last.push(chunk);
    else {
      tasks.push([chunk]);
      room = recordsPerTask;
    }
    room -= chunk.lines;
  }
  return tasks;
}

function records(chunks: readonly { readonly lines: number }[]): number {
  return chunks.reduce((sum, { lines }) => sum + lines, 0);
}

/** Chunks that together hold at most about so many records, evenly spread over all. */
export function spread<Chunk extends { readonly lines: number }>(
  chunks: readonly Chunk[],
  mostRecords: number,
): readonly Chunk[] {
  return evenShare(chunks, mostRecords / records(chunks));
}
