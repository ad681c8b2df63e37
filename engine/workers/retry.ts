import { type EventBatch, failureAttribute, withAttribute } from '#core/events/batch.ts';
import { gather } from '#core/events/select.ts';
import { textAt } from '#core/events/text-table.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { rejectsTier } from '#core/plan/document.ts';
import { Ledger, type LedgerEntry, ledgerStart } from '#core/routing/ledger.ts';
import { seededRandom } from '#core/routing/route.ts';
import { allColumns } from '#core/segments/segment.ts';
import type { NewSegment } from '#store/segments.ts';
import { countStored, type Destinations, distribute, encodeDestination } from './destinations.ts';
import { compiledPlan } from './plans.ts';
import { SegmentCache, type SegmentRef } from './segment-cache.ts';
import { workerDatabase } from './worker-database.ts';

/** One segment of rejects to be tried again; `bytes` are those of all its events as they arrived. */
export interface RetryTask {
  readonly kind: 'retry';
  readonly segment: SegmentRef & { readonly bytes: number };
  /** The reason, `rule: text`, of the rejects that are meant; empty: all. */
  readonly reason: string;
  readonly plan: PlanDocument;
  readonly revision: number;
  readonly tables: Readonly<Record<string, number>>;
  readonly now: number;
}

/** What became of a segment: what takes its place, and what the ledger has to count. */
export interface RetryResult {
  readonly retried: number;
  readonly segments: readonly NewSegment[];
  readonly ledger: readonly LedgerEntry[];
}

/** Rejects as raw events again: those with the reason, and the others. */
export function splitRejects(
  batch: EventBatch,
  reason: string,
): { readonly chosen: EventBatch; readonly left: EventBatch } {
  const text = batch.attributes.get(failureAttribute)?.text;
  const meant = new Uint8Array(batch.rows);
  for (let row = 0; row < batch.rows; row++) {
    const code = text?.codes[row] ?? -1;
    meant[row] = reason === '' || (text && code >= 0 && textAt(text.table, code) === reason) ? 1 : 0;
  }
  const rowsWith = (value: number): Int32Array =>
    Int32Array.from([...meant.keys()].filter((row) => meant[row] === value));
  const chosen = gather(batch.source, [{ batch, rows: rowsWith(1) }]);
  return {
    chosen: asArrived(withAttribute(chosen, failureAttribute, undefined)),
    left: gather(batch.source, [{ batch, rows: rowsWith(0) }]),
  };
}

/** A line that brought no fields is not parsed yet. */
function asArrived(batch: EventBatch): EventBatch {
  return batch.attributes.size === 0 ? { ...batch, parsed: new Uint8Array(batch.rows) } : batch;
}

/** Runs the rejects of a segment through the plan again. Nothing is stored yet. */
export async function retry(task: RetryTask): Promise<RetryResult> {
  const cache = new SegmentCache(workerDatabase());
  const [batch] = await cache.batches([task.segment], () => allColumns);
  if (!batch) return { retried: 0, segments: [], ledger: [] };
  const plan = await compiledPlan(task.plan, task.tables);
  const each = batch.rows > 0 ? Math.round(task.segment.bytes / batch.rows) : 0;
  const sized = { ...batch, size: new Uint32Array(batch.rows).fill(each) };
  const { chosen, left } = splitRejects(sized, task.reason);
  if (chosen.rows === 0) return { retried: 0, segments: [], ledger: [] };
  const kept: Destinations = new Map();
  const ledger = new Ledger();
  const routed = plan.run(chosen, { now: task.now, random: seededRandom(task.segment.id), expires: true });
  for (const rows of routed.tiers) distribute(kept, rows, task.now);
  for (const entry of routed.ledger) ledger.add(entry);
  takeBack(ledger, sized, task.reason, task.now);
  if (left.rows > 0) {
    const rows = Int32Array.from({ length: left.rows }, (_, row) => row);
    distribute(kept, { tier: rejectsTier.id, batch: left, rows }, task.now);
  }
  const segments = [...kept.values()].flatMap((destination) => encodeDestination(destination, task.revision));
  for (const segment of segments) countStored(ledger, segment, task.now);
  return { retried: chosen.rows, segments, ledger: ledger.list() };
}

/** The retried events were counted as rejected when they came: that is taken back, so that each is counted once. */
function takeBack(ledger: Ledger, batch: EventBatch, reason: string, now: number): void {
  const text = batch.attributes.get(failureAttribute)?.text;
  for (let row = 0; row < batch.rows; row++) {
    const code = text?.codes[row] ?? -1;
    const own = text && code >= 0 ? textAt(text.table, code) : '';
    if (reason !== '' && own !== reason) continue;
    ledger.add({
      start: ledgerStart(batch.received[row] as number, now),
      source: batch.source,
      outcome: 'rejected',
      tier: '',
      rule: own.slice(0, Math.max(0, own.indexOf(': '))),
      parsed: false,
      events: -(batch.weight[row] as number),
      bytes: -(batch.weight[row] as number) * (batch.size[row] as number),
      stored: 0,
    });
  }
}
