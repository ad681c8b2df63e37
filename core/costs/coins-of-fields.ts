import type { FieldShares } from '../fields/catalogue.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';
import { added, type CostParts, noCost, wholeOf } from './cost-table.ts';
import { coinsOf } from './money.ts';
import { daysOfMonth, flowOf } from './retention/lifetime.ts';
import { splitByField } from './split-by-field.ts';
import type { VolumePrices } from './volume-prices.ts';

/** What receiving and storing fields costs in 30 days as the one of these sums (by source, outcome and tier), in coins. */
export function coinsOfFields(
  shares: FieldShares,
  came: readonly VolumeSum[],
  { costOf, currency }: VolumePrices,
): ReadonlyMap<string, number> {
  const bySource = new Map<string, CostParts[]>();
  for (const sum of came) {
    const key = JSON.stringify([sum.source ?? '']);
    bySource.set(key, [added(bySource.get(key)?.[0] ?? noCost, costOf(flowOf(sum)))]);
  }
  const coins = new Map<string, number>();
  for (const [key, steps] of splitByField(bySource, 0, shares)) {
    const [field]: readonly string[] = JSON.parse(key);
    const cost = wholeOf(steps.reduce(added, noCost)) * BigInt(daysOfMonth);
    if (field) coins.set(field, coinsOf(cost, currency.digits));
  }
  return coins;
}
