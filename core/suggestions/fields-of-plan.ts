import { failureAttribute, overflowAttribute } from '../events/batch.ts';
import type { PlanDocument } from '../plan/document.ts';
import { fieldUses } from '../plan/field-uses.ts';

/** The fields that a plan needs in events: those that its steps and conditions read, and those that its tests expect. */
export function fieldsOfPlan(plan: PlanDocument): ReadonlySet<string> {
  const tests = plan.pipelines.flatMap(({ tests: all = [] }) => all);
  return new Set([
    ...[failureAttribute, overflowAttribute],
    ...fieldUses(plan).readers.map(({ field }) => field),
    ...tests.flatMap(({ expect }) => Object.keys(expect)),
  ]);
}
