import type { ChangeSuggestion } from '#core/answers/suggestions.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { retentionCost } from '#core/costs/retention/retention-change.ts';
import { day } from '#core/events/time-units.ts';
import { suggestedChanges } from '#core/suggestions/changes/index.ts';
import { tierDays } from '#core/suggestions/changes/tier-days.ts';
import { fieldsOfPlan } from '#core/suggestions/fields-of-plan.ts';
import { grouped } from '#core/tables/grouped.ts';
import { isKnownForLong } from '#core/usage/shorter-keep.ts';
import { usageDays } from '#core/usage/usage.ts';
import type { Queryable } from '#store/database.ts';
import { exportedSince, firstUsageDay, readSince, usageByName } from '#store/people/usage.ts';
import { designedPlan } from '../../plan/stored-plans.ts';
import type { OperationServices } from '../services.ts';
import { savedConditions, withoutSaved } from './expand-saved.ts';

/** Most tiers of which the usage is read. */
const mostTiers = 1_000;

/** Ready changes of the draft, or of the live plan without one; none where nothing has a price. */
export async function changeSuggestions(
  services: Pick<OperationServices, 'database' | 'costs' | 'tapedFields'>,
  now: number,
): Promise<readonly ChangeSuggestion[]> {
  const { database, costs, tapedFields } = services;
  const saved = await costs.book();
  if (!saved) return [];
  const from = dayOf(now) - usageDays;
  const [{ plan }, prices, { of, series, stretches }, first, tiers, used, fieldShares] = await Promise.all([
    designedPlan(database.db),
    costs.prices(now),
    costs.reader.read(saved.book, now),
    firstUsageDay(database.db),
    usageByName(database.db, { kind: 'tier', from, most: mostTiers }),
    usedSince(database.db, from),
    tapedFields.liveShares(),
  ]);
  if (!prices) return [];
  const kept = series.filter(({ outcome }) => outcome === 'kept');
  const keptBy = grouped(kept, ({ tier }) => tier);
  const keptOf = grouped(kept, ({ source }) => source);
  const days = new Map([...keptBy].map(([tier, kept]) => [tier, tierDays(kept, dayOf(now))]));
  const since = first === undefined ? null : Math.max(first, from) * day;
  const byName = new Map(tiers.map((tier) => [tier.name, tier]));
  return suggestedChanges({
    ...{ plan, now, prices },
    daysOf: (tier) => days.get(tier) ?? [],
    sourceDaysOf: (source) => tierDays(keptOf.get(source) ?? [], dayOf(now)),
    fieldShares,
    exported: used.exported,
    usedFields:
      used.fields && isKnownForLong(since, now) ? inLowerCase([...used.fields, ...fieldsOfPlan(plan)]) : undefined,
    retentionCostOf: (tier, keep) => retentionCost(series, of, stretches, { tier, keep, now }),
    usageOf: (tier) => {
      const usage = byName.get(tier);
      return { since, times: usage?.times ?? 0, oldestAge: usage?.oldestAge ?? null };
    },
  });
}

/** The sources that were exported since a day, and the fields that questions and saved searches use; undefined if some were not counted apart. */
async function usedSince(
  db: Queryable,
  from: number,
): Promise<{ readonly exported: ReadonlySet<string>; readonly fields: readonly string[] | undefined }> {
  const [exported, read, saved] = await Promise.all([
    exportedSince(db, from),
    readSince(db, 'field', from),
    savedConditions(db),
  ]);
  const conditions = await Promise.all([...saved.keys()].map((name) => withoutSaved(db, `saved:${name}`)));
  const inSearches = conditions.flatMap((text) => {
    const compiled = compileCondition(text);
    return compiled.ok ? compiled.condition.attributes : [];
  });
  const areAll = !read.includes('') && !exported.includes('');
  return { exported: new Set(exported), fields: areAll ? [...read, ...inSearches] : undefined };
}

function inLowerCase(names: readonly string[]): ReadonlySet<string> {
  return new Set(names.map((name) => name.toLowerCase()));
}
