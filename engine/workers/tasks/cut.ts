import { deflateRawSync } from 'node:zlib';
import { gather } from '#core/events/select.ts';
import { packSegment } from '#core/segments/pack.ts';
import { allColumns, type NewSegment } from '#core/segments/segment.ts';
import { SegmentCache, type SegmentRef } from '../segment-cache.ts';
import { workerDatabase } from '../worker-database.ts';

/** A segment of which only what is older than `before` (milliseconds) is to stay. */
export interface CutTask {
  readonly kind: 'cut';
  readonly segment: SegmentRef;
  readonly slot: number;
  readonly revision: number;
  readonly bytes: number;
  readonly before: number;
}

export interface CutResult {
  readonly removed: number;
  /** What takes the segment's place. */
  readonly segments: readonly NewSegment[];
}

/** Cuts a segment at a time. */
export async function cut({ segment, slot, revision, bytes, before }: CutTask): Promise<CutResult> {
  const [batch] = await new SegmentCache(workerDatabase()).batches([segment], () => allColumns);
  if (!batch) return { removed: 0, segments: [] };
  const rows = Int32Array.from([...batch.time.keys()].filter((row) => (batch.time[row] as number) < before));
  const removed = batch.rows - rows.length;
  if (rows.length === 0) return { removed, segments: [] };
  const added = packSegment(gather(batch.source, [{ batch, rows }]), {
    tier: segment.tier,
    slot,
    revision,
    layout: 'columns',
    deflate: (data) => deflateRawSync(data, { level: 5 }),
    bytes: (bytes * rows.length) / batch.rows,
  });
  return { removed, segments: [added] };
}
