import { equals } from '../conditions/write.ts';
import { parseDuration } from '../events/units.ts';
import type { PlanDocument } from './document.ts';
import type { PostureDocument, PostureOverride } from './parts/postures/postures-shape.ts';
import { liftedCap } from './parts/tiers/lifted-cap.ts';
import type { ExclusionDocument, TierDocument } from './parts/tiers/tiers-shape.ts';

/** An exclusion that is switched for a while: `tier/exclusion`, and how much it keeps meanwhile. */
export interface SwitchedExclusion {
  readonly exclusion: string;
  readonly keep: string;
}

/** What is switched at a moment: postures by their ids, and single exclusions. */
export interface Switched {
  readonly postures: readonly string[];
  readonly exclusions: readonly SwitchedExclusion[];
}

/** Nothing is switched. */
export const nothingSwitched: Switched = { postures: [], exclusions: [] };

/**
 * The plan as it is while some things are switched: single exclusions first, then postures in the order of the plan, each
 * over what those before it left. What is switched and not in the plan any more does nothing.
 */
export function withSwitched(plan: PlanDocument, { postures, exclusions }: Switched): PlanDocument {
  if (postures.length === 0 && exclusions.length === 0) return plan;
  const single = exclusions.reduce((before, { exclusion, keep }) => overridden(before, { exclusion, keep }, ''), plan);
  return (plan.postures ?? [])
    .filter(({ id }) => postures.includes(id))
    .reduce((before, posture) => withPosture(before, posture), single);
}

/** The plan as it is while a posture is on. */
export function withPosture(plan: PlanDocument, { overrides, fleet = '' }: PostureDocument): PlanDocument {
  return overrides.reduce((before, override) => overridden(before, override, fleet), plan);
}

function overridden(plan: PlanDocument, override: PostureOverride, fleet: string): PlanDocument {
  return { ...plan, tiers: plan.tiers.map((tier) => overriddenTier(tier, override, fleet)) };
}

function overriddenTier(
  tier: TierDocument,
  { exclusion, tier: id, keep = '', cap }: PostureOverride,
  fleet: string,
): TierDocument {
  if (id === undefined && !tier.exclusions) return tier;
  if (id !== undefined) {
    if (id !== tier.id) return tier;
    const lifted = cap === 'lifted' && tier.cap ? { cap: liftedCap(tier.cap) } : {};
    return { ...tier, keep: longer(tier.keep, keep), ...lifted };
  }
  const isMeant = (one: ExclusionDocument): boolean =>
    exclusion === '*' || exclusion === `${tier.id}/*` || exclusion === `${tier.id}/${one.id}`;
  return {
    ...tier,
    exclusions: (tier.exclusions ?? []).flatMap((one) => {
      if (!isMeant(one)) return [one];
      if (fleet === '') return [{ ...one, keep }];
      // The first that matches decides: the fleet's events meet the override, all others the rule itself.
      return [{ ...one, when: `${equals('fleet', fleet)} (${one.when}\n)`, keep }, one];
    }),
  };
}

function longer(one: string, other: string): string {
  return (parseDuration(other) ?? 0) > (parseDuration(one) ?? 0) ? other : one;
}
