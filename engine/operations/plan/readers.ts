import type { Reader } from '#core/answers/routing.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { planParts } from '#core/plan/parts/index.ts';
import { savedConditions, withoutSaved } from '../explore/expand-saved.ts';
import type { OperationServices } from '../services.ts';

/** Everything that reads events by a condition of its own; those whose condition is wrong read nothing. */
export async function readersOf(
  { database }: OperationServices,
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
  const all = [...planParts.flatMap((part) => part.readers(plan)), ...searches];
  return all.filter(({ condition }) => compileCondition(condition).ok);
}
