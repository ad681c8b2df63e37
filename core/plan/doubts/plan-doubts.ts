import { builtInFields } from '../../conditions/ast.ts';
import { conditionDoubts, type KnownNames } from '../../conditions/doubts.ts';
import { passingTier, rejectsTier } from '../../routing/built-in-tiers.ts';
import { stepKinds } from '../../steps/index.ts';
import { type StepDocument, stepParts } from '../../steps/step-document.ts';
import { conditionsOf } from '../conditions-of.ts';
import type { PlanDocument } from '../document.ts';
import { orderDoubts } from './order-doubts.ts';
import type { PlanDoubt } from './plan-doubt.ts';

/**
 * Doubts about the conditions of a plan, and about the order of its tiers and exclusions. `known` are the names outside of
 * it, its `fields` those that stored events have; the plan's own tiers, and the fields that its steps make or read, are
 * known besides.
 */
export function planDoubts(plan: PlanDocument, known: KnownNames): readonly PlanDoubt[] {
  const tiers = [...plan.tiers, passingTier, rejectsTier].map(({ id }) => id);
  const fields = known.fields && [...builtInFields, ...known.fields, ...fieldsOfPlan(plan)];
  // Where steps take out what they do not name, which fields there were before is not known.
  const before = stepsOf(plan).some(({ takesOut }) => takesOut === 'others') ? undefined : fields;
  const ofConditions = conditionsOf(plan).flatMap(({ path, text }) =>
    conditionDoubts(text, { ...known, tiers, fields: path.startsWith('pipelines') ? before : fields }).map(
      ({ message, suggestion }) => ({ path, message, ...(suggestion && { suggestion }) }),
    ),
  );
  return [...ofConditions, ...orderDoubts(plan)];
}

/** The fields that the steps of a plan make, read or take out, by name. */
export function fieldsOfPlan(plan: PlanDocument): readonly string[] {
  return stepsOf(plan).flatMap(({ named, takesOut }) => [...named, ...(takesOut === 'others' ? [] : takesOut)]);
}

/** The fields of a step. */
interface StepFields {
  /** Those that it makes or reads. */
  readonly named: readonly string[];
  /** Those that it takes out without looking at them; `others`: all that it does not name. */
  readonly takesOut: readonly string[] | 'others';
}

/** The fields of all steps of a plan, those in branches among them; steps that are not right yet are left out. */
function stepsOf({ pipelines }: PlanDocument): readonly StepFields[] {
  return pipelines.flatMap(({ steps }) => steps.flatMap(fieldsOfStep));
}

function fieldsOfStep(step: StepDocument): readonly StepFields[] {
  const { kind, options } = stepParts(step);
  const known = stepKinds.get(kind);
  if (!known?.schema.isValidSync(options)) return [];
  const cast = known.schema.cast(options);
  const named = [...known.makes(cast), ...known.reads(cast)];
  const inside = (known.branches?.(cast) ?? []).flatMap(({ steps }) => steps.flatMap(fieldsOfStep));
  return [{ named, takesOut: known.takesOut?.(cast) ?? [] }, ...inside];
}
