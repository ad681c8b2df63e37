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
  /** Fields that were found to name single events: they are not read; in lower case. */
  readonly leftOut: ReadonlySet<string>;
  /** Fields that are measured: they are taken whatever they name; in lower case. */
  readonly measured: ReadonlySet<string>;
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
  /** Fields that name single events, in lower case. */
  readonly names: readonly string[];
}

/** A text column with more different values than this part of its rows names single events. */
const nearlyUnique = 0.5;
const fewRows = 200;

export async function whySample(cache: SegmentCache, task: WhySampleTask): Promise<readonly Sampled[]> {
  const query = queryOf(task.query);
  const asked = new Set(query.condition.attributes.map((field) => field.toLowerCase()));
  const leftOut = new Set([...task.leftOut].filter((name) => !asked.has(name)));
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
  const names = [...batch.attributes]
    .filter(([name, columns]) => namesSingleEvents(columns, batch.rows) && !task.measured.has(name.toLowerCase()))
    .map(([name]) => name);
  const some = gather(batch.source, [{ batch: without(batch, names), rows: chosen }]);
  return { segment, batch: some, fitting: rows.length, names: names.map((name) => name.toLowerCase()) };
}

/** Whether nearly every event has a text of its own: such a field is no cause, and long. */
function namesSingleEvents({ text }: AttributeColumns, rows: number): boolean {
  return rows >= fewRows && text !== undefined && (!text.unique || text.table.count >= nearlyUnique * rows);
}

function without(batch: EventBatch, names: readonly string[]): EventBatch {
  const attributes = new Map(batch.attributes);
  for (const name of names) attributes.delete(name);
  return { ...batch, attributes };
}
