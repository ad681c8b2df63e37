import { conditionOf } from '../../../conditions/condition.ts';
import { parseDuration } from '../../../events/units.ts';
import { type CompiledCap, parseDayAmount, unlimited } from '../../../routing/cap.ts';
import type { CompiledTier } from '../../../routing/compiled-tier.ts';
import { daysOf } from '../../../routing/day-of-zone.ts';
import { keptOneIn } from '../../../routing/kept-share.ts';
import { overflowKinds } from '../../../routing/overflow/index.ts';
import type { OverflowKind } from '../../../routing/overflow/overflow.ts';
import type { PlanDocument } from '../../document.ts';
import { isLifted } from './lifted-cap.ts';
import type { CapDocument, TierDocument } from './tiers-shape.ts';

/** Compiles the tiers of a plan that has been checked. */
export function compileTiers({ tiers }: Pick<PlanDocument, 'tiers'>): readonly CompiledTier[] {
  return tiers.map(compileTier);
}

/** Compiles a checked tier. */
export function compileTier(tier: TierDocument): CompiledTier {
  return {
    id: tier.id,
    when: conditionOf(tier.when ?? ''),
    keep: parseDuration(tier.keep) ?? 0,
    cap: tier.cap && compileCap(tier.cap),
    exclusions: (tier.exclusions ?? []).map((exclusion) => ({
      id: exclusion.id,
      when: conditionOf(exclusion.when),
      oneIn: keptOneIn(exclusion.keep) ?? 1,
      by: exclusion.by,
      until: exclusion.until === undefined ? Number.POSITIVE_INFINITY : Date.parse(exclusion.until),
    })),
  };
}

/** Compiles the cap of a tier that was checked. */
export function compileCap(cap: CapDocument): CompiledCap {
  const { day, zone = 'UTC', over } = cap;
  const { unit, amount } = parseDayAmount(day) ?? unlimited;
  const to = typeof over === 'string' ? undefined : over.tier;
  const overflow = overflowKinds.get(typeof over === 'string' ? over : 'tier') as OverflowKind;
  return { unit, amount, isOn: !isLifted(cap), dayOf: daysOf(zone), overflow, to };
}
