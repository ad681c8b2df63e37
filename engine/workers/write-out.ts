import type { EventBatch } from '#core/events/batch.ts';
import type { ExportField, ExportPiece } from '#core/exports/export-format.ts';
import { exportFormats } from '#core/exports/index.ts';
import type { Extraction } from '#core/search/extraction.ts';
import { storedEventAt } from '#core/search/found-event.ts';
import { columnsToFetch, columnsToFind, looksAtExtracted, rowsFound } from '#core/search/search.ts';
import type { WantedColumns } from '#core/segments/segment.ts';
import { again } from '#store/again.ts';
import { type QueryText, queryOf } from '../search/query.ts';
import type { FindRef } from './find.ts';
import type { SegmentCache } from './segment-cache.ts';
import { currentShape } from './shapes.ts';

/** Writes out what is found in one segment. */
export interface WriteOutTask {
  readonly kind: 'writeOut';
  readonly query: QueryText;
  readonly segment: Pick<FindRef, 'id' | 'tier' | 'source' | 'events' | 'inside' | 'holds'>;
  /** The name of the form, and all attributes. */
  readonly format: string;
  readonly fields: readonly ExportField[];
  /** The fleets that the source belongs to. */
  readonly fleets: readonly string[];
  readonly now: number;
}

/** The found events of a segment in the form that is asked for, in order of time; empty for a segment that is gone. */
export async function writeOut(cache: SegmentCache, task: WriteOutTask): Promise<ExportPiece> {
  const { segment, fleets, now } = task;
  const format = exportFormats.get(task.format);
  const query = queryOf(task.query);
  const read = async (wanted: WantedColumns, extraction: Extraction | undefined): Promise<EventBatch | undefined> => {
    const [batch] = await again(() => cache.batches([segment], () => wanted));
    return batch && extraction ? extraction.run(batch) : batch;
  };
  const toFind = columnsToFind(query, { ...segment, counted: true, newest: false });
  const asked = await read(toFind, looksAtExtracted(query) ? query.extraction : undefined);
  if (!asked || !format) return { data: '' };
  const rows = rowsFound(query, asked, { tier: segment.tier, now, fleets, currentShape }, segment);
  // Most segments that may hold something do not: what they have besides is left unread.
  const made = rows.length === 0 ? undefined : await read(columnsToFetch(true), query.extraction);
  if (!made) return { data: '' };
  const events = Array.from(rows, (row) => storedEventAt(made, row, segment.tier));
  return await format.piece(events, task.fields);
}
