import { type LedgerSum, sumLedger } from '#store/ledger.ts';
import { recent } from '../base/cached-for.ts';
import type { OperationServices } from './services.ts';

const hour = 3_600_000;
const day = 24 * hour;
/** So long the same sums are given again (milliseconds): screens that stand side by side tell the same. */
const freshFor = 4_000;

type LastDay = (now: number) => Promise<readonly LedgerSum[]>;

const known = new WeakMap<OperationServices, LastDay>();

/** The ledger of the last 24 hours by source, parsed, outcome and tier, for all who ask. */
export function lastDayOf(setting: OperationServices): LastDay {
  let lastDay = known.get(setting);
  if (!lastDay) {
    lastDay = recent(freshFor, (now) =>
      sumLedger(setting.database, { from: now - day, to: now + hour }, ['source', 'parsed', 'outcome', 'tier'], 0),
    );
    known.set(setting, lastDay);
  }
  return lastDay;
}
