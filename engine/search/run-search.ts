import type { SearchAnswer, SearchProgress } from '#core/answers/search.ts';
import type { TimeWindow } from '#core/conditions/times.ts';
import { fieldSummaries } from '#core/search/field-summary.ts';
import { mergeSearch, newSearchPartial, type SearchPartial, severityClasses } from '#core/search/search.ts';
import { summaryTable } from '#core/search/summary-table.ts';
import { again } from '#store/again.ts';
import type { Database } from '#store/database.ts';
import { listSegments, type StoredSegment } from '#store/segments.ts';
import type { Pools } from '../workers/pools.ts';
import type { SegmentRef } from '../workers/segment-cache.ts';
import { mayHoldIn } from './may-hold-in.ts';
import { type QueryText, queryOf } from './query.ts';

/** Most events handed to a worker at a time; between two of them a search can be cancelled. */
const taskEvents = 262_144;
/** Tasks of one lane at a time: while one waits for the store, the other computes. */
const tasksPerLane = 2;
/** Found events after which the look at what they have in common has seen enough. */
const enoughForFields = 20_000;

/** What a search reads with. */
export interface SearchSetting {
  readonly database: Database;
  readonly pools: Pools;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
}

export interface SearchRun {
  /** The tiers that are read; all of them where none are given. */
  readonly tiers?: readonly string[] | undefined;
  readonly signal: AbortSignal;
  /** Told after each piece of work how far it is. */
  readonly progress: (progress: SearchProgress) => void;
}

/** Runs a search over the stored segments, newest first. Aborting the signal stops it between two pieces of work. */
export async function runSearch(
  { database, pools, fleets }: SearchSetting,
  text: QueryText,
  { signal, progress, tiers }: SearchRun,
): Promise<SearchAnswer> {
  const started = performance.now();
  const now = Date.now();
  const query = queryOf(text);
  const listed = await again(() => listSegments(database, query.window, tiers));
  const wanted = listed.filter(mayHoldIn(query.condition, { now, fleets }));
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
    const queue = queues[index % pools.readLanes] as (readonly SegmentRef[])[];
    for (let task = queue.shift(); task; task = queue.shift()) {
      signal.throwIfAborted();
      const partial = await pools.read(index, {
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
