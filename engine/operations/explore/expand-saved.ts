import { expandSaved, type SavedConditions } from '#core/conditions/saved.ts';
import { withConditions } from '#core/plan/conditions-of.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Queryable } from '#store/database.ts';
import { listSavedSearches } from '#store/people/saved-searches.ts';
import { Refusal } from '../refusal.ts';

/** What saved searches stand for now. */
export async function savedConditions(tx: Queryable): Promise<SavedConditions> {
  return new Map((await listSavedSearches(tx)).map(({ name, condition }) => [name, condition]));
}

const mention = /saved:/i;

/** A condition with the saved searches in it replaced by what they stand for; refuses one that names what is not saved. */
export async function withoutSaved(tx: Queryable, condition: string): Promise<string> {
  if (!mention.test(condition)) return condition;
  const expanded = expandSaved(condition, await savedConditions(tx));
  if (expanded.ok) return expanded.text;
  const { problem } = expanded;
  throw new Refusal(400, '', problem.message, { problem: { in: 'condition', ...problem } });
}

/**
 * A plan with the saved searches in its conditions replaced by what they stand for now, so that no plan changes with them.
 * What is not saved stays, and the plan's check tells it.
 */
export async function planWithoutSaved(tx: Queryable, plan: PlanDocument): Promise<PlanDocument> {
  if (!mention.test(JSON.stringify(plan))) return plan;
  const saved = await savedConditions(tx);
  return withConditions(plan, (condition) => {
    const expanded = expandSaved(condition, saved);
    return expanded.ok ? expanded.text : condition;
  });
}
