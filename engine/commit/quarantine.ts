import { Ledger, type LedgerEntry, ledgerStart, type Outcome } from '#core/routing/ledger.ts';
import type { Database } from '#store/database.ts';
import { addDeliveries } from '#store/events/deliveries.ts';
import { addToQuarantine, type Quarantined, quarantinedBytes } from '#store/events/quarantine.ts';
import { saveProgress } from '#store/sources/positions.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';

/** The rule under which the records of deliveries that are set aside are counted as rejected. */
export const quarantineRule = 'quarantine';

/** Most bytes of one source that are set aside at a time; further deliveries are refused, or lost where nobody can be answered. */
const mostBytes = 200_000_000;

/**
 * Sets a delivery aside that can be neither processed nor stored: as it came, in one transaction with its key, its volume
 * and how far it takes its reader, so that it holds up nothing behind it. Returns what its sender is answered.
 */
export async function setAside(database: Database, delivery: Delivery, reason: string): Promise<DeliveryAnswer> {
  const now = Date.now();
  const records = recordsOf(delivery);
  const { chunks, progress, key, ...rest } = delivery;
  const bytes = chunks.reduce((sum, chunk) => sum + chunk.length, 0);
  const kept = await database.db.transaction(async (tx) => {
    const fits = (await quarantinedBytes(tx, delivery.source)) + bytes <= mostBytes;
    if (progress) await saveProgress(tx, [progress]);
    if (!fits) {
      // A sender that is answered may send again: its delivery counts only when it cannot be.
      if (progress) await addToLedger(tx, entries(delivery, 'lost', records, bytes, now));
      return false;
    }
    if (key !== undefined)
      await addDeliveries(tx, [{ source: delivery.source, key, accepted: 0, rejected: records, at: now }]);
    await addToQuarantine(tx, {
      source: delivery.source,
      reason,
      records,
      bytes,
      at: now,
      delivery: JSON.stringify({ ...rest, lengths: chunks.map(({ length }) => length) }),
      data: Buffer.concat(chunks),
    });
    await addToLedger(tx, entries(delivery, 'rejected', records, bytes, now));
    return true;
  });
  if (!kept) {
    const message = `This cannot be stored (${reason}), and as much of this source as is kept for another try is kept already. Nothing of it was kept.`;
    return { kind: 'refused', status: 400, message };
  }
  return {
    kind: 'stored',
    accepted: 0,
    rejected: records,
    problems: [{ record: 1, message: reason }],
    notes: ['This delivery could not be stored as events. It was set aside as it came and can be tried again.'],
  };
}

/** The delivery that was set aside, without its key: it is to be stored now. */
export function takenBack({ delivery, data }: Quarantined): Delivery {
  // What was written by `setAside` has its shape.
  const { lengths, ...rest }: Omit<Delivery, 'chunks'> & { readonly lengths: readonly number[] } = JSON.parse(delivery);
  let at = 0;
  const chunks = lengths.map((length) => data.subarray(at, (at += length)));
  return { ...rest, chunks };
}

/** What takes a delivery's records back out of the ledger when it is tried again. */
export function takenBackEntries(row: Quarantined): readonly LedgerEntry[] {
  return entries(takenBack(row), 'rejected', -row.records, -row.bytes, row.at);
}

function entries(
  delivery: Delivery,
  outcome: Outcome,
  events: number,
  bytes: number,
  now: number,
): readonly LedgerEntry[] {
  const ledger = new Ledger();
  ledger.add({
    start: ledgerStart(Math.min(delivery.received, now), now),
    source: delivery.source,
    outcome,
    tier: '',
    rule: quarantineRule,
    parsed: false,
    events,
    bytes,
    stored: 0,
  });
  return ledger.list();
}

/** How many records a delivery holds as far as that is known without reading it: one for what is no lines. */
function recordsOf({ shape, gzip, chunks }: Delivery): number {
  if (shape === 'messages') return chunks.length;
  if (shape !== 'lines' || gzip) return 1;
  let lines = 0;
  for (const chunk of chunks) {
    for (let at = chunk.indexOf(10); at >= 0; at = chunk.indexOf(10, at + 1)) lines++;
    if (chunk.length > 0 && chunk[chunk.length - 1] !== 10) lines++;
  }
  return Math.max(1, lines);
}
