import type { PlanDocument } from './document.ts';
import type { CapDocument, TierDocument } from './parts/tiers/tiers-shape.ts';

/** A ready change of one tier: another retention, or a cap. */
export type PlanEdit =
  | { readonly kind: 'retention'; readonly tier: string; readonly keep: string }
  | { readonly kind: 'cap'; readonly tier: string; readonly cap: CapDocument };

/** The plan with a change; the same plan if the tier is gone. */
export function withPlanEdit(plan: PlanDocument, edit: PlanEdit): PlanDocument {
  const changed = (tier: TierDocument): TierDocument =>
    edit.kind === 'retention' ? { ...tier, keep: edit.keep } : { ...tier, cap: edit.cap };
  return { ...plan, tiers: plan.tiers.map((tier) => (tier.id === edit.tier ? changed(tier) : tier)) };
}
