import { stepKinds } from '../../../steps/index.ts';
import { type StepDocument, stepParts } from '../../../steps/step-document.ts';
import { type FieldPlace, type FieldUses, joinUses, readByCondition, usesOf } from '../../field-use.ts';

const none: FieldUses = { makers: [], readers: [] };

/** Fields that a step and the steps of its branches make and read; none where it is not right yet. */
export function fieldUsesOfStep(step: StepDocument, place: FieldPlace): FieldUses {
  const { kind, options, when } = stepParts(step);
  const known = stepKinds.get(kind);
  if (!known?.schema.isValidSync(options)) return none;
  const cast = known.schema.cast(options);
  const branches = known.branches?.(cast) ?? [];
  const inside = branches.flatMap(({ when: guard = '', steps }) => [
    { makers: [], readers: readByCondition(guard, place) },
    ...steps.map((inner) => fieldUsesOfStep(inner, place)),
  ]);
  const ofStep = {
    makers: usesOf(known.makes(cast), place),
    readers: [...usesOf(known.reads(cast), place), ...readByCondition(when, place)],
  };
  return joinUses([ofStep, ...inside]);
}
