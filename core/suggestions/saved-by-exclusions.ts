import { wholeOf } from '../costs/cost-table.ts';
import type { Money } from '../costs/money.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import { excludedOutcomes } from '../routing/ledger.ts';

/** Volume of a day (its start in milliseconds) that met one fate. */
interface DayFlow {
  readonly start: number;
  readonly source: string;
  readonly tier: string;
  readonly outcome: string;
  readonly events: number;
  readonly bytes: number;
}

const isExcluded: ReadonlySet<string> = new Set(excludedOutcomes);

/** By day, how much less what some tiers excluded costs than if they had kept it, at the prices of that day. */
export function savedByExclusions(
  flows: readonly DayFlow[],
  tiers: readonly string[],
  { costOf }: VolumePrices,
): ReadonlyMap<number, Money> {
  const saved = new Map<number, Money>();
  for (const { start, ...flow } of flows) {
    if (!isExcluded.has(flow.outcome) || !tiers.includes(flow.tier)) continue;
    // What would have been stored of it is not known: as much as is usual.
    const cost = (outcome: string): Money => wholeOf(costOf({ ...flow, outcome, stored: undefined }, { at: start }));
    saved.set(start, (saved.get(start) ?? 0n) + cost('kept') - cost(flow.outcome));
  }
  return saved;
}
