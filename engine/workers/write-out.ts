import { exportFormats } from '#core/exports/index.ts';
import { storedEventAt } from '#core/search/found-event.ts';
import { columnsToFetch, rowsFound } from '#core/search/search.ts';
import { again } from '#store/again.ts';
import { type QueryText, queryOf } from '../search/query.ts';
import type { FindRef } from './find.ts';
import type { SegmentCache } from './segment-cache.ts';

/** Writes out what is found in one segment. */
export interface WriteOutTask {
  readonly kind: 'writeOut';
  readonly query: QueryText;
  readonly segment: Pick<FindRef, 'id' | 'tier' | 'source' | 'events' | 'inside' | 'holds'>;
  /** The name of the form, and the names of all attributes. */
  readonly format: string;
  readonly fields: readonly string[];
  /** The fleets that the source belongs to. */
  readonly fleets: readonly string[];
  readonly now: number;
}

/** The found events of a segment in the form that is asked for, in order of time; empty for a segment that is gone. */
export async function writeOut(cache: SegmentCache, task: WriteOutTask): Promise<string> {
  const { segment, fleets, now } = task;
  const format = exportFormats.get(task.format);
  const [batch] = await again(() => cache.batches([segment], () => columnsToFetch(true)));
  if (!batch || !format) return '';
  const query = queryOf(task.query);
  const made = query.extraction ? query.extraction.run(batch) : batch;
  const rows = rowsFound(query, made, { tier: segment.tier, now, fleets }, segment);
  const events = Array.from(rows, (row) => storedEventAt(made, row, segment.tier));
  return format.events(events, task.fields);
}
