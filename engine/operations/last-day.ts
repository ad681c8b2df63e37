import { day, hour } from '#core/events/time-units.ts';
import type { Database } from '#store/database.ts';
import { type LedgerSum, sumLedger } from '#store/volume/ledger.ts';
import { cachedFor } from '../base/cached-for.ts';

/** So long the same sums are given again (milliseconds): screens side by side agree. */
const freshFor = 4_000;

/** The ledger of the last 24 hours by source, parsed, outcome and tier. */
export type LastDay = (now: number) => Promise<readonly LedgerSum[]>;

/** Reads the last 24 hours, once in some seconds for all who ask. */
export function lastDayOf(database: Database): LastDay {
  return cachedFor(freshFor, (now) =>
    sumLedger(database, { from: now - day, to: now + hour }, ['source', 'parsed', 'outcome', 'tier'], 0),
  );
}
