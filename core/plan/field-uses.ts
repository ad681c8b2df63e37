import type { PlanDocument } from './document.ts';
import { planParts } from './parts/index.ts';
import type { FieldUses } from './parts/part.ts';

/** Which steps make which fields, and which steps and conditions read them. */
export function fieldUses(plan: PlanDocument): FieldUses {
  const uses = planParts.map((part) => part.fieldUses(plan));
  return { makers: uses.flatMap(({ makers }) => makers), readers: uses.flatMap(({ readers }) => readers) };
}
