import type { PlanDocument } from './document.ts';
import { draftShape } from './document.ts';

/** A value as a plan that is being written. Throws Yup's `ValidationError` with the path of what is wrong. */
export function draftOf(value: unknown): PlanDocument {
  assertDraft(value);
  return value;
}

function assertDraft(value: unknown): asserts value is PlanDocument {
  draftShape.validateSync(value, { abortEarly: false });
}
