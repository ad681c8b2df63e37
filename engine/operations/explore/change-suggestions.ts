import type { ChangeSuggestion } from '#core/answers/suggestions.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { retentionCost } from '#core/costs/retention/retention-change.ts';
import { day } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { ChangeSetting } from '#core/suggestions/changes/change-kind.ts';
import { suggestedChanges } from '#core/suggestions/changes/index.ts';
import { keptDays } from '#core/suggestions/changes/kept-days.ts';
import { fieldsOfPlan } from '#core/suggestions/fields-of-plan.ts';
import { grouped } from '#core/tables/grouped.ts';
import { isKnownForLong } from '#core/usage/shorter-keep.ts';
import { usageDays } from '#core/usage/usage.ts';
import { firstUsageDay, readSince, usageByName } from '#store/people/usage.ts';
import { designedPlan } from '../../plan/stored-plans.ts';
import { searchReaders } from '../plan/readers.ts';
import type { OperationServices } from '../services.ts';

/** Most tiers of which the usage is read. */
const mostTiers = 1_000;

/** Ready changes of the draft, or of the live plan without one; none where nothing has a price. */
export async function changeSuggestions(
  services: Pick<OperationServices, 'database' | 'costs' | 'tapedFields'>,
  now: number,
): Promise<readonly ChangeSuggestion[]> {
  const { database, costs } = services;
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
  const kept = series.filter(({ outcome }) => outcome === 'kept');
  const keptBy = grouped(kept, ({ tier }) => tier);
  const keptOf = grouped(kept, ({ source }) => source);
  const days = new Map([...keptBy].map(([tier, ofTier]) => [tier, keptDays(ofTier, dayOf(now))]));
  const since = first === undefined ? null : Math.max(first, from) * day;
  const byName = new Map(tiers.map((tier) => [tier.name, tier]));
  return suggestedChanges({
    ...{ plan, now, prices },
    tierDaysOf: (tier) => days.get(tier) ?? [],
    sourceDaysOf: (source) => keptDays(keptOf.get(source) ?? [], dayOf(now)),
    ...(isKnownForLong(since, now) ? await fieldUsage(services, plan, from) : nothingKnown),
    retentionCostOf: (tier, keep) => retentionCost(series, of, stretches, { tier, keep, now }),
    usageOf: (tier) => {
      const usage = byName.get(tier);
      return { since, times: usage?.times ?? 0, oldestAge: usage?.oldestAge ?? null };
    },
  });
}

/** What is known of the usage of fields. */
type FieldUsage = Pick<ChangeSetting, 'fieldShares' | 'usedFields' | 'exported'>;

const nothingKnown: FieldUsage = { fieldShares: new Map(), usedFields: undefined, exported: new Set() };

/** Which fields questions since a day, saved searches and a plan use. */
async function fieldUsage(
  { database: { db }, tapedFields }: Pick<OperationServices, 'database' | 'tapedFields'>,
  plan: PlanDocument,
  from: number,
): Promise<FieldUsage> {
  const [exported, read, searches, fieldShares] = await Promise.all([
    readSince(db, 'source', from, 'export'),
    readSince(db, 'field', from),
    searchReaders(db),
    tapedFields.liveShares(),
  ]);
  // Where some were not counted apart, any may have been read.
  if (exported.includes('') || read.includes('')) return nothingKnown;
  const inSearches = searches.flatMap(({ condition }) => {
    const compiled = compileCondition(condition);
    return compiled.ok ? compiled.condition.attributes : [];
  });
  const names = [...read, ...inSearches, ...fieldsOfPlan(plan)];
  return {
    ...{ fieldShares, exported: new Set(exported) },
    usedFields: new Set(names.map((name) => name.toLowerCase())),
  };
}
