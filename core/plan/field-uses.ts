import type { PlanDocument } from './document.ts';
import { type FieldUses, joinUses } from './field-use.ts';
import { planParts } from './parts/index.ts';

/** Which steps make which fields, and which steps and conditions read them. */
export function fieldUses(plan: PlanDocument): FieldUses {
  return joinUses(planParts.map((part) => part.fieldUses(plan)));
}
