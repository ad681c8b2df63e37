import { stepKinds } from '../../../steps/index.ts';
import { type StepDocument, stepParts } from '../../../steps/step-document.ts';

/** A step in a few words; its kind alone where it is not right. */
export function describeStep(step: StepDocument): string {
  const { kind, options, when } = stepParts(step);
  const known = stepKinds.get(kind);
  try {
    const text = known ? known.describe(known.schema.cast(options)) : kind;
    return when === '' ? text : `${text}, when ${when}`;
  } catch {
    return kind;
  }
}
