import type { ConditionContext } from '#core/conditions/evaluate.ts';
import { pick } from '#core/events/select.ts';
import { type FoundRows, NewestRows } from '#core/search/newest.ts';
import { inOrder, type SearchOrder } from '#core/search/order.ts';
import {
  addFound,
  columnsToFind,
  type FindIn,
  type FoundPartial,
  looksAtExtracted,
  mostNewest,
  newFound,
  rowsFound,
} from '#core/search/search.ts';
import { retryRead } from '#store/retry-read.ts';
import { type QueryText, queryOf } from '../query.ts';
import type { SegmentCache, SegmentRef } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';

/** A segment to be looked through, and what is known of it. */
export interface FindRef extends SegmentRef, FindIn {}

/** The first pass of a search over some segments. */
export interface FindTask {
  readonly kind: 'find';
  readonly query: QueryText;
  readonly segments: readonly FindRef[];
  /** Of rows that are not newer than this (milliseconds, mirrored where the oldest are asked for), enough were found. */
  readonly after: number;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

export interface FindResult {
  readonly found: FoundPartial;
  readonly newest: readonly FoundRows[];
}

/** Finds and counts the events of some segments, and says where the newest of them are. */
export async function find(cache: SegmentCache, task: FindTask): Promise<FindResult> {
  const query = queryOf(task.query);
  const found = newFound(query);
  const newest = new NewestRows(mostNewest(query));
  const batches = await retryRead(() =>
    cache.batches(task.segments, (_, index) => columnsToFind(query, task.segments[index] as FindRef)),
  );
  const { extraction } = query;
  const isExtracted = looksAtExtracted(query);
  batches.forEach((read, index) => {
    const segment = task.segments[index] as FindRef;
    if (!read) return;
    const batch = isExtracted && extraction ? extraction.run(read) : read;
    const fleets = task.fleets.get(batch.source);
    const context: ConditionContext = { tier: segment.tier, now: task.now, currentShape, ...(fleets && { fleets }) };
    const rows = rowsFound(query, batch, context, segment);
    if (!segment.counted) {
      found.scanned += batch.rows;
      found.stored += rows.length;
      addFound(found, query, batch, rows, segment.tier);
    }
    if (segment.newest) {
      const found = { segment: segment.id, time: batch.time, rows };
      newest.add(newestIn(found, query.order, { after: Math.max(task.after, newest.after), most: newest.most }));
    }
  });
  return { found, newest: newest.newest() };
}

/** The newest of some rows of a segment that are newer than `after`; in mirrored time, where the oldest are asked for. */
function newestIn(
  { segment, time, rows }: { readonly segment: number; readonly time: Float64Array; readonly rows: Int32Array },
  order: SearchOrder,
  { after, most }: { readonly after: number; readonly most: number },
): FoundRows {
  const timed = order === 'newest' ? rows : rows.toReversed();
  const timeOf = (row: number): number => inOrder(order, time[row] as number);
  let from = Math.max(0, timed.length - most);
  while (from < timed.length && timeOf(timed[from] as number) <= after) from++;
  const chosen = timed.slice(from);
  const times = pick(time, chosen, new Float64Array(chosen.length));
  if (order === 'oldest') for (let i = 0; i < times.length; i++) times[i] = -(times[i] as number);
  return { segment, rows: chosen, times };
}
