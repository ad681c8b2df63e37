import type { ChangeSuggestion } from '#core/answers/suggestions.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { volumePrices } from '#core/costs/volume-prices.ts';
import { day } from '#core/events/time-units.ts';
import { suggestedChanges } from '#core/suggestions/changes/index.ts';
import { usageDays } from '#core/usage/usage.ts';
import { firstUsageDay, usageByName } from '#store/people/usage.ts';
import { designedPlan } from '../../plan/stored-plans.ts';
import type { OperationServices } from '../services.ts';

/** Most tiers of which the usage is read. */
const mostTiers = 1_000;

/** Ready changes of the tiers of the draft, or of the live plan without one; none where nothing has a price. */
export async function changeSuggestions(
  { database, costs }: Pick<OperationServices, 'database' | 'costs'>,
  now: number,
): Promise<readonly ChangeSuggestion[]> {
  const saved = await costs.book();
  if (!saved) return [];
  const from = dayOf(now) - usageDays;
  const [{ plan }, { of, series }, first, tiers] = await Promise.all([
    designedPlan(database.db),
    costs.reader.read(saved.book, now),
    firstUsageDay(database.db),
    usageByName(database.db, { kind: 'tier', from, most: mostTiers }),
  ]);
  const since = first === undefined ? null : Math.max(first, from) * day;
  const byName = new Map(tiers.map((tier) => [tier.name, tier]));
  return suggestedChanges({
    ...{ plan, series, now, prices: volumePrices(of, series, now) },
    usageOf: (tier) => {
      const usage = byName.get(tier);
      return { since, times: usage?.times ?? 0, oldestAge: usage?.oldestAge ?? null };
    },
  });
}
