import { gather, type Selection, sharedCountUp } from '../events/select.ts';
import { day, hour } from '../events/time-units.ts';
import { packSegment, storedBytes } from '../segments/pack.ts';
import { maxSegmentEvents, type NewSegment } from '../segments/segment.ts';
import { passingTier, rejectsTier } from './built-in-tiers.ts';
import { type Ledger, ledgerStart } from './ledger.ts';
import type { TierRows } from './route.ts';

/** A segment of at least this many events is stored column by column at once; smaller ones wait for compaction. */
const columnsFrom = 4_096;

/** What is to be stored, by tier, source and slot. */
export type Destinations = Map<string, Destination>;

/** Events that will be stored in one segment or several of the same tier, source and slot. */
export interface Destination {
  readonly tier: string;
  readonly source: string;
  readonly slot: number;
  readonly selections: Selection[];
}

/**
 * Splits rows by day (passing tier: by hour). Of the tiers that are built in, what they would have let go already is left
 * out; of the others it was never given to them.
 */
export function distribute(kept: Destinations, { tier, batch, rows }: TierRows, now: number): void {
  const builtIn = [passingTier, rejectsTier].find(({ id }) => id === tier);
  const oldest = builtIn ? now - builtIn.keep : Number.NEGATIVE_INFINITY;
  const step = tier === passingTier.id ? hour : day;
  const bySlot = new Map<number, number[]>();
  for (const row of rows) {
    const slot = Math.floor((batch.time[row] as number) / step) * step;
    if (slot + step < oldest) continue;
    const slotRows = bySlot.get(slot);
    if (slotRows) slotRows.push(row);
    else bySlot.set(slot, [row]);
  }
  for (const [slot, chosen] of bySlot) {
    const key = `${tier}|${batch.source}|${slot}`;
    const selection = { batch, rows: chosen.length === rows.length ? rows : Int32Array.from(chosen) };
    const destination = kept.get(key);
    if (destination) destination.selections.push(selection);
    else kept.set(key, { tier, source: batch.source, slot, selections: [selection] });
  }
}

/** Encodes and compresses what one destination gets. */
export function encodeDestination(
  { tier, source, slot, selections }: Destination,
  revision: number,
  deflate: (bytes: Uint8Array) => Uint8Array,
): readonly NewSegment[] {
  const whole = gather(source, selections);
  const all = sharedCountUp(whole.rows);
  const segments: NewSegment[] = [];
  for (let start = 0; start < whole.rows; start += maxSegmentEvents) {
    const end = Math.min(whole.rows, start + maxSegmentEvents);
    const batch =
      end - start === whole.rows ? whole : gather(source, [{ batch: whole, rows: all.subarray(start, end) }]);
    const layout = batch.rows >= columnsFrom ? 'columns' : 'whole';
    segments.push(packSegment(batch, { tier, slot, revision, layout, deflate }));
  }
  return segments;
}

/** Books the stored bytes of a segment; its events were counted when they were routed. */
export function bookStored(ledger: Ledger, segment: NewSegment, now: number): void {
  const outcome = segment.tier === passingTier.id ? 'passing' : segment.tier === rejectsTier.id ? 'rejected' : 'kept';
  ledger.add({
    start: ledgerStart(Math.min(now, segment.facts.from), now),
    source: segment.source,
    outcome,
    tier: outcome === 'kept' ? segment.tier : '',
    rule: '',
    parsed: true,
    events: 0,
    bytes: 0,
    stored: storedBytes(segment),
  });
}
