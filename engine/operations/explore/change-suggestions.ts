import type { ChangeSuggestion } from '#core/answers/suggestions.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { retentionCost } from '#core/costs/retention/retention-change.ts';
import { day } from '#core/events/time-units.ts';
import { suggestedChanges } from '#core/suggestions/changes/index.ts';
import { tierDays } from '#core/suggestions/changes/tier-days.ts';
import { grouped } from '#core/tables/grouped.ts';
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
  const [{ plan }, prices, { of, series, stretches }, first, tiers] = await Promise.all([
    designedPlan(database.db),
    costs.prices(now),
    costs.reader.read(saved.book, now),
    firstUsageDay(database.db),
    usageByName(database.db, { kind: 'tier', from, most: mostTiers }),
  ]);
  if (!prices) return [];
  const keptBy = grouped(
    series.filter(({ outcome }) => outcome === 'kept'),
    ({ tier }) => tier,
  );
  const days = new Map([...keptBy].map(([tier, kept]) => [tier, tierDays(kept, dayOf(now))]));
  const since = first === undefined ? null : Math.max(first, from) * day;
  const byName = new Map(tiers.map((tier) => [tier.name, tier]));
  return suggestedChanges({
    ...{ plan, now, prices },
    daysOf: (tier) => days.get(tier) ?? [],
    retentionCostOf: (tier, keep) => retentionCost(series, of, stretches, { tier, keep, now }),
    usageOf: (tier) => {
      const usage = byName.get(tier);
      return { since, times: usage?.times ?? 0, oldestAge: usage?.oldestAge ?? null };
    },
  });
}
