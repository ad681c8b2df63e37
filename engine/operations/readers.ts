import type { Reader } from '#core/answers/routing.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { OperationSetting } from './setting.ts';
import { savedConditions, withoutSaved } from './without-saved.ts';

/** Everything that reads events by a condition of its own; those whose condition is wrong read nothing. */
export async function readersOf(
  { database }: OperationSetting,
  plan: PlanDocument,
): Promise<readonly (Omit<Reader, 'share'> & { readonly condition: string })[]> {
  const saved = await savedConditions(database.db);
  const searches = await Promise.all(
    [...saved.keys()].map(async (name) => ({
      kind: 'search' as const,
      name,
      condition: await withoutSaved(database.db, `saved:${name}`),
    })),
  );
  const all = [
    ...plan.pipelines.map(({ title, when }) => ({ kind: 'pipeline' as const, name: title, condition: when })),
    ...plan.tiers.flatMap(({ exclusions = [] }) =>
      exclusions.map(({ title, when }) => ({ kind: 'exclusion' as const, name: title, condition: when })),
    ),
    ...(plan.metrics ?? []).map(({ name, when }) => ({ kind: 'metric' as const, name, condition: when })),
    ...searches,
  ];
  return all.filter(({ condition }) => compileCondition(condition).ok);
}
