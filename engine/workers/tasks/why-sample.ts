import type { ConditionContext } from '#core/conditions/evaluate.ts';
import type { EventBatch } from '#core/events/batch.ts';
import type { AttributeColumns } from '#core/events/columns.ts';
import { gather } from '#core/events/select.ts';
import { rowsFound, type SearchQuery } from '#core/search/search.ts';
import { allColumns, type WantedColumns } from '#core/segments/segment.ts';
import { retryRead } from '#store/retry-read.ts';
import { type QueryText, queryOf } from '../query.ts';
import type { SegmentCache, SegmentRef } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';

/** A segment of which some events are compared with others. */
export interface SampledRef extends SegmentRef {
  /** The time it is looked at for: 0 since a change, others before it. In milliseconds. */
  readonly period: number;
  readonly from: number;
  readonly to: number;
  /** Most rows that are taken. */
  readonly most: number;
}

/** Takes events of some segments, evenly, of those that a query picks. */
export interface WhySampleTask {
  readonly kind: 'whySample';
  readonly query: QueryText;
  readonly segments: readonly SampledRef[];
  /** Whether their bodies are looked at later. */
  readonly bodies: boolean;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

/** Events that were taken of a segment. */
export interface Sampled {
  readonly segment: SampledRef;
  readonly batch: EventBatch;
  /** How many of the segment fit. */
  readonly fitting: number;
}

/** A text column with more different values than this part of its rows names single events. */
const nearlyUnique = 0.5;
const fewRows = 200;

export async function whySample(cache: SegmentCache, task: WhySampleTask): Promise<readonly Sampled[]> {
  const query = queryOf(task.query);
  const wanted: WantedColumns = { ...allColumns, received: false, body: task.bodies || query.condition.body };
  const batches = await retryRead(() => cache.batches(task.segments, () => wanted));
  return batches.flatMap((batch, index) => {
    const segment = task.segments[index] as SampledRef;
    return batch ? [sampled(batch, segment, query, task)] : [];
  });
}

function sampled(batch: EventBatch, segment: SampledRef, query: SearchQuery, task: WhySampleTask): Sampled {
  const fleets = task.fleets.get(batch.source);
  const context: ConditionContext = { tier: segment.tier, now: task.now, currentShape, ...(fleets && { fleets }) };
  const within = { ...query, window: { from: segment.from, to: segment.to } };
  const rows = rowsFound(within, batch, context, { inside: false, holds: false });
  const apart = rows.length / segment.most;
  const chosen =
    apart <= 1
      ? rows
      : Int32Array.from({ length: segment.most }, (_, i) => rows[Math.floor((i + 0.5) * apart)] as number);
  const some = gather(batch.source, [{ batch: withoutNames(batch), rows: chosen }]);
  return { segment, batch: withoutNames(some), fitting: rows.length };
}

/** A batch without what names single events: that is no cause, and long. */
function withoutNames(batch: EventBatch): EventBatch {
  if (batch.rows < fewRows) return batch;
  const isKept = ({ text }: AttributeColumns): boolean =>
    !text || (text.unique && text.table.count < nearlyUnique * batch.rows);
  return { ...batch, attributes: new Map([...batch.attributes].filter(([, columns]) => isKept(columns))) };
}
