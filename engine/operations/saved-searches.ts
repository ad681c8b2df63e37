import type { SavedSearchChanged, SavedSearchesAnswer } from '#core/answers/search.ts';
import { parseCondition } from '#core/conditions/parse.ts';
import { expandSaved, type SavedConditions } from '#core/conditions/saved.ts';
import { operations } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { withConditions } from '#core/plan/with-conditions.ts';
import type { Queryable } from '#store/database.ts';
import {
  removeSavedSearch as deleteSearch,
  findSavedSearch,
  listSavedSearches,
  mostSavedSearches,
  storeSavedSearch,
} from '#store/saved-searches.ts';
import { command, question } from './handler.ts';
import { Refusal } from './refusal.ts';

/** What saved searches stand for now. */
async function savedConditions(tx: Queryable): Promise<SavedConditions> {
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

export const savedSearches = question(
  operations.savedSearches,
  async (_input, { database }): Promise<SavedSearchesAnswer> => ({ searches: await listSavedSearches(database.db) }),
);

export const saveSearch = command(operations.saveSearch, {
  subject: ({ name }) => name,
  carryOut: async ({ version, ...search }, { tx, now }) => {
    const before = await findSavedSearch(tx, search.name);
    if (version !== (before?.version ?? 0)) {
      const more: SavedSearchChanged = { saved: before ?? null };
      const detail = before
        ? `Another search is saved as ${search.name}, or someone changed it meanwhile. Nothing was kept of this one.`
        : `Nothing is saved as ${search.name} any more. Nothing was kept of this change.`;
      throw new Refusal(409, 'The saved search is another one by now', detail, more);
    }
    const all = await savedConditions(tx);
    if (!before && all.size >= mostSavedSearches)
      throw new Refusal(
        409,
        '',
        `There are ${mostSavedSearches} saved searches, and no more can be. Remove some first.`,
      );
    checkCondition(search.condition, new Map([...all, [search.name, search.condition]]));
    const stored = { ...search, version: version + 1, changedAt: now };
    await storeSavedSearch(tx, stored);
    return stored;
  },
});

/** Refuses a condition that is wrong, be it in what it refers to. */
function checkCondition(condition: string, saved: SavedConditions): void {
  const expanded = expandSaved(condition, saved);
  const problem = expanded.ok ? parseCondition(condition).problem : expanded.problem;
  if (problem) throw new Refusal(400, '', problem.message, { problem: { in: 'condition', ...problem } });
}

export const removeSearch = command(operations.removeSearch, {
  subject: ({ name }) => name,
  carryOut: async ({ name }, { tx }) => {
    await deleteSearch(tx, name);
    return {};
  },
});
