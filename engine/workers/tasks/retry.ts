import { deflateRawSync } from 'node:zlib';
import { allRows } from '#core/events/select.ts';
import type { Switched } from '#core/plan/postures.ts';
import { rejectsTier } from '#core/routing/built-in-tiers.ts';
import { bookStored, type Destinations, distribute, encodeDestination } from '#core/routing/destinations.ts';
import { Ledger, type LedgerEntry, type ShapeVolume } from '#core/routing/ledger.ts';
import { seededRandom } from '#core/routing/route.ts';
import { addedUp, countShapes, takeBackShapes } from '#core/routing/shape-counts.ts';
import { splitRejects, takeBack } from '#core/routing/split-rejects.ts';
import { withSizes } from '#core/routing/with-sizes.ts';
import { allColumns, type NewSegment } from '#core/segments/segment.ts';
import { livePlan } from '../plans.ts';
import { SegmentCache, type SegmentRef } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';
import { workerDatabase } from '../worker-database.ts';

/** One segment of rejects to be tried again; `bytes` are those of all its events as they arrived. */
export interface RetryTask {
  readonly kind: 'retry';
  readonly segment: SegmentRef & { readonly bytes: number };
  /** The reason, `rule: text`, of the rejects that are meant; empty: all. */
  readonly reason: string;
  readonly revision: number;
  readonly tables: Readonly<Record<string, number>>;
  readonly switched: Switched;
  readonly now: number;
}

/** What became of a segment: what takes its place, and what the ledger has to count. */
export interface RetryResult {
  readonly retried: number;
  readonly segments: readonly NewSegment[];
  readonly ledger: readonly LedgerEntry[];
  readonly shapes: readonly ShapeVolume[];
}

const deflate = (bytes: Uint8Array): Uint8Array => deflateRawSync(bytes, { level: 1 });

const nothing: RetryResult = { retried: 0, segments: [], ledger: [], shapes: [] };

/** Runs the rejects of a segment through the plan again. Nothing is stored yet. */
export async function retry(task: RetryTask): Promise<RetryResult> {
  const cache = new SegmentCache(workerDatabase());
  const [batch] = await cache.batches([task.segment], () => allColumns);
  if (!batch) return nothing;
  const plan = await livePlan(task.revision, task.tables, task.switched);
  const sized = withSizes(batch, task.segment.bytes);
  const { meant, left } = splitRejects(sized, task.reason);
  if (meant.rows === 0) return nothing;
  const kept: Destinations = new Map();
  const ledger = new Ledger();
  const routed = plan.run(meant, {
    now: task.now,
    random: seededRandom(task.segment.id),
    expires: true,
    currentShape,
  });
  for (const rows of routed.tiers) distribute(kept, rows, task.now);
  for (const entry of routed.ledger) ledger.add(entry);
  takeBack(ledger, sized, task.reason, task.now);
  if (left.rows > 0) {
    distribute(kept, { tier: rejectsTier.id, batch: left, rows: allRows(left) }, task.now);
  }
  const segments = [...kept.values()].flatMap((destination) => encodeDestination(destination, task.revision, deflate));
  for (const segment of segments) bookStored(ledger, segment, task.now);
  const shapes = addedUp([...countShapes(routed, task.now), ...takeBackShapes(meant, task.now)]);
  return { retried: meant.rows, segments, ledger: ledger.list(), shapes };
}
