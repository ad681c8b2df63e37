import type { CompiledTier } from '../../../routing/compiled-tier.ts';
import type { PlanDocument } from '../../document.ts';
import { isSame } from '../../merge.ts';
import { withPosture } from '../../postures.ts';
import { compileTier } from '../tiers/compile-tier.ts';

/** A posture ready to be compared with its plan. */
export interface CompiledPosture {
  readonly id: string;
  readonly title: string;
  /** The tiers that have other exclusions while it is on, as they are then. */
  readonly tiers: readonly CompiledTier[];
}

/** Compiles the postures of a plan that has been checked once they are asked for, as only rehearsals do. */
export function compilePostures(plan: PlanDocument): () => readonly CompiledPosture[] {
  let compiled: readonly CompiledPosture[] | undefined;
  return () => {
    compiled ??= (plan.postures ?? []).map((posture) => ({
      id: posture.id,
      title: posture.title,
      tiers: withPosture(plan, posture)
        .tiers.filter(({ exclusions }, i) => !isSame(exclusions, plan.tiers[i]?.exclusions))
        .map(compileTier),
    }));
    return compiled;
  };
}
