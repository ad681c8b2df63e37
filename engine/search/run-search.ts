import type { ConditionNode } from '#core/conditions/ast.ts';
import type { Condition } from '#core/conditions/condition.ts';
import type { TimeWindow } from '#core/conditions/times.ts';
import type { EventRecord } from '#core/events/batch.ts';
import { type FieldSummary, fieldSummaries } from '#core/search/field-summary.ts';
import { mergeSearch, newSearchPartial, type SearchPartial, severityClasses } from '#core/search/search.ts';
import { type SummaryTable, summaryTable } from '#core/search/summary-table.ts';
import { again } from '#store/again.ts';
import type { Database } from '#store/database.ts';
import { listSegments, type StoredSegment } from '#store/segments.ts';
import type { Pools } from '../workers/pools.ts';
import type { SegmentRef } from '../workers/segment-cache.ts';
import { type QueryText, queryOf } from './query.ts';

/** Most events handed to a worker at a time; between two of them a search can be cancelled. */
const taskEvents = 262_144;
/** Tasks of one lane at a time: while one waits for the store, the other computes. */
const tasksPerLane = 2;
/** Found events after which the look at what they have in common has seen enough. */
const enoughForFields = 20_000;

export interface SearchProgress {
  readonly segments: number;
  readonly segmentsRead: number;
  readonly scanned: number;
  readonly total: number;
}

/** What a search found. Times in milliseconds. */
export interface SearchAnswer {
  readonly total: number;
  /** Whether some of the found events stand for several, so that counts are estimates. */
  readonly estimated: boolean;
  readonly events: readonly EventRecord[];
  /** Per bucket the counts by severity class. */
  readonly histogram: readonly (readonly number[])[];
  readonly fields: readonly FieldSummary[];
  readonly summary?: SummaryTable;
  readonly scanned: number;
  readonly segments: number;
  readonly tookMs: number;
}

/** Runs a search over the stored segments, newest first. Aborting the signal stops it between two pieces of work. */
export async function runSearch(
  database: Database,
  pools: Pools,
  text: QueryText,
  tiers: readonly string[] | undefined,
  fleets: ReadonlyMap<string, readonly string[]>,
  signal: AbortSignal,
  progress: (progress: SearchProgress) => void,
): Promise<SearchAnswer> {
  const started = performance.now();
  const now = Date.now();
  const query = queryOf(text);
  const listed = await again(() => listSegments(database, query.window, tiers));
  const wanted = listed.filter((segment) => mayMatch(query.condition, segment));
  const merged = newSearchPartial(query);
  let segmentsRead = 0;
  let fields = text.fields;
  const queues = Array.from({ length: pools.readLanes }, (_, index) =>
    tasks(
      wanted.filter((segment) => segment.id % pools.readLanes === index),
      query.window,
    ),
  );
  const lane = async (index: number): Promise<void> => {
    const own = queues[index % pools.readLanes] as (readonly SegmentRef[])[];
    for (let task = own.shift(); task; task = own.shift()) {
      signal.throwIfAborted();
      const partial = await pools.search(index, {
        kind: 'search',
        query: { ...text, fields },
        segments: task,
        fleets,
        now,
      });
      mergeSearch(merged, partial, query);
      segmentsRead += task.length;
      if (merged.fieldTotal >= enoughForFields) fields = false;
      progress({ segments: wanted.length, segmentsRead, scanned: merged.scanned, total: merged.total });
    }
  };
  await Promise.all(Array.from({ length: pools.readLanes * tasksPerLane }, (_, index) => lane(index)));
  signal.throwIfAborted();
  return {
    total: merged.total,
    estimated: Math.round(merged.total) !== merged.stored,
    events: merged.events,
    histogram: histogramRows(merged, text.buckets),
    fields: fieldSummaries(merged.fields, merged.fieldTotal),
    ...(query.summary && merged.summary && { summary: summaryTable(query.summary, merged.summary, query.window, now) }),
    scanned: merged.scanned,
    segments: wanted.length,
    tookMs: Math.round(performance.now() - started),
  };
}

function histogramRows(merged: SearchPartial, buckets: number): readonly (readonly number[])[] {
  return Array.from({ length: buckets }, (_, i) => [
    ...merged.histogram.subarray(i * severityClasses, (i + 1) * severityClasses),
  ]);
}

function tasks(segments: readonly StoredSegment[], window: TimeWindow): (readonly SegmentRef[])[] {
  const all: SegmentRef[][] = [];
  let events = Number.POSITIVE_INFINITY;
  for (const { id, tier, source, events: count, from, to } of segments) {
    if (events + count > taskEvents) {
      all.push([]);
      events = 0;
    }
    all[all.length - 1]?.push({ id, tier, source, events: count, inside: from >= window.from && to + 1 <= window.to });
    events += count;
  }
  return all;
}

/** Whether a segment can hold events that a condition picks, judged by its source and tier alone. */
function mayMatch(condition: Condition, segment: StoredSegment): boolean {
  const constant = (node: ConditionNode): boolean => {
    if (node.kind === 'and') return node.parts.every(constant);
    if (node.kind === 'or') return node.parts.some(constant);
    if (node.kind !== 'compare' || node.operator !== '=' || (node.value.text.includes('*') && !node.value.quoted))
      return true;
    const field = node.field.toLowerCase();
    const value = field === 'source' ? segment.source : field === 'tier' ? segment.tier : undefined;
    return value === undefined || value.toLowerCase() === node.value.text.toLowerCase();
  };
  return constant(condition.node);
}
