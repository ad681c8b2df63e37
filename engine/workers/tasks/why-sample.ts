import type { ConditionContext } from '#core/conditions/evaluate.ts';
import type { EventBatch } from '#core/events/batch.ts';
import { rowsFound, type SearchQuery } from '#core/search/search.ts';
import { allColumns, type WantedColumns } from '#core/segments/segment.ts';
import { retryRead } from '#store/retry-read.ts';
import { type QueryText, queryOf } from '../query.ts';
import type { SegmentCache, SegmentRef } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';
import { gatheredEvents } from './sampled-part.ts';

/** A segment to sample for one of the compared periods. */
export interface SampledRef extends SegmentRef {
  /** 0: since the change; 1, 2, …: earlier periods. `from` and `to` in milliseconds. */
  readonly period: number;
  readonly from: number;
  readonly to: number;
  /** Most rows to sample. */
  readonly most: number;
}

/** Samples matching events evenly from some segments. */
export interface WhySampleTask {
  readonly kind: 'whySample';
  readonly query: QueryText;
  readonly segments: readonly SampledRef[];
  /** Fields not to read, because their values are unique ids; in lower case. */
  readonly skipped: ReadonlySet<string>;
  /** Fields that the measure needs, even if they are unique; in lower case. */
  readonly measured: ReadonlySet<string>;
  /** Whether the measure needs bodies. */
  readonly bodies: boolean;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

/** Sampled events of a segment. */
export interface Sampled {
  readonly segment: SampledRef;
  readonly batch: EventBatch;
  /** How many events of the segment match. */
  readonly fitting: number;
  /** Fields whose values are unique ids, in lower case. */
  readonly uniqueFields: readonly string[];
}

/** Samples matching events; segments that are gone are skipped. */
export async function whySample(cache: SegmentCache, task: WhySampleTask): Promise<readonly Sampled[]> {
  const query = queryOf(task.query);
  const asked = new Set(query.condition.attributes.map((field) => field.toLowerCase()));
  const leftOut = new Set([...task.skipped].filter((name) => !asked.has(name)));
  const wanted: WantedColumns = { ...allColumns, leftOut, received: false, body: task.bodies || query.condition.body };
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
  return { segment, fitting: rows.length, ...gatheredEvents(batch, chosen, task.measured) };
}
