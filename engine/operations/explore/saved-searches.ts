import type { SavedSearchChanged, SavedSearchesAnswer } from '#core/answers/search.ts';
import { parseCondition } from '#core/conditions/parse.ts';
import { expandSaved, type SavedConditions } from '#core/conditions/saved.ts';
import { operations } from '#core/operations/index.ts';
import {
  removeSavedSearch as deleteSearch,
  findSavedSearch,
  listSavedSearches,
  mostSavedSearches,
  storeSavedSearch,
} from '#store/people/saved-searches.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import { savedConditions } from './expand-saved.ts';

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
        ? `Another search is saved as ${search.name}, or someone changed it meanwhile. Your version was not saved.`
        : `${search.name} is no longer saved. Your change was not saved.`;
      throw new Refusal(409, 'The saved search has changed', detail, more);
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
    if (!(await deleteSearch(tx, name))) throw new Refusal(404, '', `No search is saved as ${name.slice(0, 100)}.`);
    return {};
  },
});
