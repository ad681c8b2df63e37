import { builtInFields } from '../conditions/ast.ts';
import { conditionDoubts, type KnownNames } from '../conditions/doubts.ts';
import { stepKinds } from '../steps/index.ts';
import { conditionsOf } from './conditions-of.ts';
import { type PlanDocument, passingTier, rejectsTier, type StepDocument, stepParts } from './document.ts';

/** What of a plan is valid and can hardly be meant: where, what, and what may be meant instead. */
export interface PlanDoubt {
  readonly path: string;
  readonly message: string;
  readonly suggestion?: string;
}

/**
 * Doubts about the conditions of a plan. `known` are the names outside of it, its `fields` those that stored events have;
 * the plan's own tiers, and the fields that its steps make or read, are known besides.
 */
export function planDoubts(plan: PlanDocument, known: KnownNames): readonly PlanDoubt[] {
  const tiers = [...plan.tiers, passingTier, rejectsTier].map(({ id }) => id);
  const named = plan.pipelines.flatMap(({ steps }) => steps.flatMap(fieldsOfStep));
  const fields = known.fields && [...builtInFields, ...known.fields, ...named.filter((name) => name !== others)];
  // Where steps take out what they do not name, which fields there were before is not known.
  const before = named.includes(others) ? undefined : fields;
  return conditionsOf(plan).flatMap(({ path, text }) =>
    conditionDoubts(text, { ...known, tiers, fields: path.startsWith('pipelines') ? before : fields }).map(
      ({ message, suggestion }) => ({ path, message, ...(suggestion && { suggestion }) }),
    ),
  );
}

/** The fields that the steps of a plan make, read or take out, by name. */
export function fieldsOfPlan({ pipelines }: PlanDocument): readonly string[] {
  return pipelines.flatMap(({ steps }) => steps.flatMap(fieldsOfStep)).filter((name) => name !== others);
}

/** Stands among names for those that a step takes out without naming them; no field is called so. */
const others = '';

/** The fields that a step, and those in its branches, make, read or take out. */
function fieldsOfStep(step: StepDocument): readonly string[] {
  const { kind, options } = stepParts(step);
  const known = stepKinds.get(kind);
  if (!known?.schema.isValidSync(options)) return [];
  const cast = known.schema.cast(options);
  const takenOut = known.takesOut?.(cast) ?? [];
  const inside = (known.branches?.(cast) ?? []).flatMap(({ steps }) => steps.flatMap(fieldsOfStep));
  return [...known.makes(cast), ...known.reads(cast), ...(takenOut === 'others' ? [others] : takenOut), ...inside];
}
