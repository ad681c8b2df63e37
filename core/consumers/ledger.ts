import type { EventBatch } from '../events/batch.ts';
import { readingRule } from '../formats/read.ts';
import { type LedgerEntry, ledgerStart } from '../routing/ledger.ts';
import type { Consumer } from './consumer.ts';

/** The volume ledger: how much arrived, and what became of it. It is asked last, when all others have booked what they take. */
export const ledger: Consumer<readonly LedgerEntry[]> = {
  begin: (_plan, { now, ledger: book }) => ({
    add: ({ read: { unreadable }, routed }) => {
      for (const entry of routed.ledger) book.add(entry);
      if (unreadable) book.add(unreadableEntry(unreadable, now));
    },
    effect: () => {
      const entries = book.list();
      return entries.length > 0 ? entries : undefined;
    },
  }),
};

/** Records that could not be read; those of a delivery came at the same time. */
function unreadableEntry(unreadable: EventBatch, now: number): LedgerEntry {
  return {
    start: ledgerStart(unreadable.received[0] as number, now),
    source: unreadable.source,
    outcome: 'rejected',
    tier: '',
    rule: readingRule,
    parsed: false,
    events: unreadable.rows,
    bytes: unreadable.size.reduce((sum, size) => sum + size, 0),
    stored: 0,
  };
}
