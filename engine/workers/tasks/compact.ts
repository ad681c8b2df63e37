import { deflateRawSync } from 'node:zlib';
import type { EventBatch } from '#core/events/batch.ts';
import { allRows, gather } from '#core/events/select.ts';
import { packSegment } from '#core/segments/pack.ts';
import { allColumns } from '#core/segments/segment.ts';
import type { Database } from '#store/database.ts';
import { exchangeSegments } from '#store/events/segments.ts';
import { SegmentCache, type SegmentRef } from '../segment-cache.ts';

/**
 * Most values of a merged segment, its events times its fields: it is put together in memory, where each takes four bytes and more,
 * and later opened there.
 */
const mostCells = 32_000_000;
/** Segments that are opened together have about so many events. */
const openedEvents = 16_384;

export interface CompactTask {
  readonly kind: 'compact';
  readonly tier: string;
  readonly source: string;
  readonly slot: number;
  /** In the order in which they are to be put together. */
  readonly segments: readonly SmallSegment[];
  readonly now: number;
}

/** A segment to be merged with others. */
export interface SmallSegment extends SegmentRef {
  readonly revision: number;
  /** Bytes as they arrived: segments of earlier versions do not hold the sizes of single events. */
  readonly bytes: number;
}

/** What became of it: how many segments were merged, none where others were faster; and the one that has too many fields to be merged with the next. */
export interface CompactResult {
  readonly merged: number;
  readonly alone?: number | undefined;
}

/** Merges as many of some segments into one as may be, from the first on. */
export async function compact(database: Database, task: CompactTask): Promise<CompactResult> {
  const opened = await openWhatFits(new SegmentCache(database), task.segments);
  if (!opened) return { merged: 0 };
  const [first] = opened;
  if (opened.length === 1) return { merged: 0, alone: first?.segment.id };
  const { tier, source, slot, now } = task;
  const merged = packSegment(
    gather(
      source,
      opened.map(({ batch }) => ({ batch, rows: allRows(batch) })),
    ),
    {
      ...{ tier, slot, layout: 'columns' },
      revision: Math.max(...opened.map(({ segment }) => segment.revision)),
      deflate: (data) => deflateRawSync(data, { level: 5 }),
      bytes: opened.reduce((sum, { segment }) => sum + segment.bytes, 0),
    },
  );
  const old = opened.map(({ segment }) => segment.id);
  return { merged: (await exchangeSegments(database, { old, added: [merged], now })) ? old.length : 0 };
}

interface Opened {
  readonly segment: SmallSegment;
  readonly batch: EventBatch;
}

/** Opens segments until what they hold together is as much as may be merged, the first one in any case; undefined when one is gone. */
async function openWhatFits(
  cache: SegmentCache,
  segments: readonly SmallSegment[],
): Promise<readonly Opened[] | undefined> {
  const opened: Opened[] = [];
  const fields = new Set<string>();
  let events = 0;
  for (const some of inTurns(segments)) {
    const batches = await cache.batches(some, () => allColumns);
    for (const [i, segment] of some.entries()) {
      const batch = batches[i];
      if (!batch) return undefined;
      for (const name of batch.attributes.keys()) fields.add(name);
      events += batch.rows;
      if (opened.length > 0 && events * fields.size > mostCells) return opened;
      opened.push({ segment, batch });
    }
  }
  return opened;
}

function inTurns(segments: readonly SmallSegment[]): readonly (readonly SmallSegment[])[] {
  const turns: SmallSegment[][] = [];
  let events = Number.POSITIVE_INFINITY;
  for (const segment of segments) {
    if (events + segment.events > openedEvents) {
      turns.push([]);
      events = 0;
    }
    events += segment.events;
    turns.at(-1)?.push(segment);
  }
  return turns;
}
