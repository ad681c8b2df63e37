import { type LedgerSum, sumLedger } from '#store/volume/ledger.ts';
import { cachedFor } from '../base/cached-for.ts';
import type { OperationServices } from './services.ts';

const hour = 3_600_000;
const day = 24 * hour;
/** So long the same sums are given again (milliseconds): screens that stand side by side tell the same. */
const freshFor = 4_000;

type LastDay = (now: number) => Promise<readonly LedgerSum[]>;

const known = new WeakMap<OperationServices, LastDay>();

/** The ledger of the last 24 hours by source, parsed, outcome and tier, for all who ask. */
export function lastDayOf(services: OperationServices): LastDay {
  let lastDay = known.get(services);
  if (!lastDay) {
    lastDay = cachedFor(freshFor, (now) =>
      sumLedger(services.database, { from: now - day, to: now + hour }, ['source', 'parsed', 'outcome', 'tier'], 0),
    );
    known.set(services, lastDay);
  }
  return lastDay;
}
