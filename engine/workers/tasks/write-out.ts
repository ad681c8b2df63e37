import { LRUCache } from 'lru-cache';
import type { EventBatch } from '#core/events/batch.ts';
import { memoryOf } from '#core/events/footprint.ts';
import { endOfPiece } from '#core/exports/end-of-piece.ts';
import type { ExportFields, ExportPiece } from '#core/exports/export-format.ts';
import { exportFormats } from '#core/exports/index.ts';
import type { Extraction } from '#core/search/extraction.ts';
import { columnsToFetch, columnsToFind, looksAtExtracted, rowsFound } from '#core/search/search.ts';
import type { WantedColumns } from '#core/segments/segment.ts';
import { retryRead } from '#store/retry-read.ts';
import { type QueryText, queryOf } from '../query.ts';
import type { SegmentCache } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';
import type { FindRef } from './find.ts';

/** What was found and is being written out stays open, of several exports together as much as this (bytes). */
const mostOpen = 150_000_000;

/** Writes out some of what is found in one segment. */
export interface WriteOutTask {
  readonly kind: 'writeOut';
  readonly query: QueryText;
  readonly segment: Pick<FindRef, 'id' | 'tier' | 'source' | 'events' | 'inside' | 'holds'>;
  /** How many of the found events were written out before. */
  readonly from: number;
  /** The name of the form, and all attributes. */
  readonly format: string;
  readonly fields: ExportFields;
  /** The fleets that the source belongs to. */
  readonly fleets: readonly string[];
  readonly now: number;
}

/** Some events that were written out, and from which one on more are left; undefined where none is. */
export interface WrittenPiece {
  readonly piece: ExportPiece;
  readonly next: number | undefined;
}

const none: WrittenPiece = { piece: { data: new Uint8Array(0) }, next: undefined };

/** What was found in a segment: its rows, and the events once one of them is to be written out. */
interface FoundInSegment {
  readonly rows: Int32Array;
  readonly batch: EventBatch;
}

/** What is being written out, by the export and its segment: the next piece goes on with it. */
const open = new LRUCache<string, FoundInSegment>({
  maxSize: mostOpen,
  sizeCalculation: ({ batch }) => Math.min(mostOpen, Math.max(1, memoryOf(batch))),
});

/** The found events of a segment in the form that is asked for, in order of time; none for a segment that is gone. */
export async function writeOut(cache: SegmentCache, task: WriteOutTask): Promise<WrittenPiece> {
  const format = exportFormats.get(task.format);
  const of = JSON.stringify([task.segment.id, task.now, task.query]);
  const found = open.get(of) ?? (await findIn(cache, task));
  if (!found || !format) return none;
  const { batch } = found;
  const end = endOfPiece(batch, found.rows, task.from);
  const rows = found.rows.subarray(task.from, end);
  const next = end < found.rows.length ? end : undefined;
  if (next === undefined) open.delete(of);
  else open.set(of, found);
  return { piece: await format.piece({ batch, rows, tier: task.segment.tier }, task.fields), next };
}

async function findIn(
  cache: SegmentCache,
  { query: text, segment, fleets, now }: WriteOutTask,
): Promise<FoundInSegment | undefined> {
  const query = queryOf(text);
  const read = async (wanted: WantedColumns, extraction: Extraction | undefined): Promise<EventBatch | undefined> => {
    const [batch] = await retryRead(() => cache.batches([segment], () => wanted));
    return batch && extraction ? extraction.run(batch) : batch;
  };
  const toFind = columnsToFind(query, { ...segment, counted: true, newest: false });
  const asked = await read(toFind, looksAtExtracted(query) ? query.extraction : undefined);
  if (!asked) return undefined;
  const rows = rowsFound(query, asked, { tier: segment.tier, now, fleets, currentShape }, segment);
  // Most segments that may hold something do not: what they have besides is left unread.
  const batch = rows.length === 0 ? undefined : await read(columnsToFetch(true), query.extraction);
  return batch && { rows, batch };
}
