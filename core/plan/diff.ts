import type { PlanDocument } from './document.ts';
import { planParts } from './parts/index.ts';
import type { PlanChange } from './plan-change.ts';

/** What was changed from one plan to the other, in the order of the plan. */
export function diffPlans(before: PlanDocument, after: PlanDocument): readonly PlanChange[] {
  return planParts.flatMap(({ diff }) => diff(before, after));
}
