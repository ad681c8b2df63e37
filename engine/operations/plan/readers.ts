import type { Reader } from '#core/answers/routing.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { planParts } from '#core/plan/parts/index.ts';
import type { EventReader } from '#core/rehearsal/reader-finds.ts';
import type { Queryable } from '#store/database.ts';
import { lastQuestions } from '../../usage/question-readers.ts';
import { savedConditions, withoutSaved } from '../explore/expand-saved.ts';
import type { OperationServices } from '../services.ts';

/** The most recent questions that a rehearsal checks. */
const mostQuestions = 30;

/** Readers of stored events: saved searches and recent questions. */
export async function eventReaders({
  database,
}: Pick<OperationServices, 'database'>): Promise<readonly (EventReader & { readonly condition: string })[]> {
  const questions = await lastQuestions(database.db, Date.now(), mostQuestions);
  const asked = questions.map(({ name, condition }) => ({ kind: 'question' as const, name, condition }));
  return [...(await searchReaders(database.db)), ...asked].filter(({ condition }) => compileCondition(condition).ok);
}

/** Saved searches with their conditions, in which those that they mention stand written out. */
export async function searchReaders(db: Queryable) {
  const saved = await savedConditions(db);
  return await Promise.all(
    [...saved.keys()].map(async (name) => ({
      kind: 'search' as const,
      name,
      condition: await withoutSaved(db, `saved:${name}`),
    })),
  );
}

/** Everything that reads events by a condition of its own; those whose condition is wrong read nothing. */
export async function readersOf(
  { database }: OperationServices,
  plan: PlanDocument,
): Promise<readonly (Omit<Reader, 'share'> & { readonly condition: string })[]> {
  const searches = await searchReaders(database.db);
  const all = [...planParts.flatMap((part) => part.readers(plan)), ...searches];
  return all.filter(({ condition }) => compileCondition(condition).ok);
}
