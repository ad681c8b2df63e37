import { compileCondition } from '../conditions/condition.ts';
import { stepKinds } from '../steps/index.ts';
import { type PlanDocument, type StepDocument, stepParts } from './document.ts';

/** A place in the plan that makes or reads a field. */
export interface FieldUse {
  readonly field: string;
  /** Where, as the plan names it: `payments/2`, or `tier/exclusion`. */
  readonly at: string;
  readonly title: string;
  readonly pipeline?: string;
  readonly step?: number;
}

/** Which steps make which fields, and which steps and conditions read them. */
export function fieldUses(plan: PlanDocument): {
  readonly makers: readonly FieldUse[];
  readonly readers: readonly FieldUse[];
} {
  const makers: FieldUse[] = [];
  const readers: FieldUse[] = [];
  for (const { id, title, when, steps } of plan.pipelines) {
    readers.push(...readBy(when, { at: id, title: `entry of “${title}”`, pipeline: id }));
    steps.forEach((step, index) => {
      const place = {
        at: `${id}/${index + 1}`,
        title: `step ${index + 1} of “${title}”`,
        pipeline: id,
        step: index + 1,
      };
      addStep(step, place, makers, readers);
    });
  }
  for (const tier of plan.tiers) {
    readers.push(...readBy(tier.when ?? '', { at: tier.id, title: `tier “${tier.title}”` }));
    for (const { id, title, when, by } of tier.exclusions ?? []) {
      const place = { at: `${tier.id}/${id}`, title: `exclusion “${title}”` };
      readers.push(...readBy(when, place), ...(by ? [{ field: by, ...place }] : []));
    }
  }
  for (const { id, name, when, of, by = [] } of plan.metrics ?? []) {
    const place = { at: id, title: `metric “${name}”` };
    const fields = [...(of ? [of] : []), ...by.map(({ field }) => field)];
    readers.push(...readBy(when, place), ...fields.map((field) => ({ field, ...place })));
  }
  for (const { id, title, when, of, by } of plan.rankings ?? []) {
    const place = { at: id, title: `ranking “${title}”` };
    readers.push(...readBy(when, place), ...[...(of ? [of] : []), ...by].map((field) => ({ field, ...place })));
  }
  return { makers, readers };
}

type Place = Omit<FieldUse, 'field'>;

function addStep(step: StepDocument, place: Place, makers: FieldUse[], readers: FieldUse[]): void {
  const { kind, options, when } = stepParts(step);
  const known = stepKinds.get(kind);
  if (!known?.schema.isValidSync(options)) return;
  const cast = known.schema.cast(options);
  makers.push(...known.makes(cast).map((field) => ({ field, ...place })));
  readers.push(...known.reads(cast).map((field) => ({ field, ...place })), ...readBy(when, place));
  for (const branch of known.branches?.(cast) ?? []) {
    readers.push(...readBy(branch.when ?? '', place));
    for (const inner of branch.steps) addStep(inner, place, makers, readers);
  }
}

function readBy(condition: string, place: Place): readonly FieldUse[] {
  const compiled = compileCondition(condition);
  return compiled.ok ? compiled.condition.attributes.map((field) => ({ field, ...place })) : [];
}
