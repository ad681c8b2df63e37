import { allRows } from '../events/select.ts';
import { rejectsTier } from '../routing/built-in-tiers.ts';
import { bookStored, type Destinations, distribute, encodeDestination } from '../routing/destinations.ts';
import type { NewSegment } from '../segments/segment.ts';
import type { Consumer } from './consumer.ts';

/** What tiers store, and records that could not be read, among the rejects. */
export const segments: Consumer<readonly NewSegment[]> = {
  begin: (_plan, { now, revision, deflate, ledger }) => {
    const destinations: Destinations = new Map();
    return {
      add: ({ read: { unreadable }, routed }) => {
        for (const rows of routed.tiers) distribute(destinations, rows, now);
        if (unreadable)
          distribute(destinations, { tier: rejectsTier.id, batch: unreadable, rows: allRows(unreadable) }, now);
      },
      effect: () => {
        const encoded = [...destinations.values()].flatMap((destination) =>
          encodeDestination(destination, revision, deflate),
        );
        for (const segment of encoded) bookStored(ledger, segment, now);
        return encoded.length > 0 ? encoded : undefined;
      },
    };
  },
  bytesOf: (encoded) =>
    encoded.flatMap(({ parts, header }) => [...parts.map(({ data }) => data), ...(header ? [header] : [])]),
};
