import type { SavedSearchView } from '#core/answers/search.ts';
import { call, refresh, useQuestion } from './client.ts';

/** All saved searches; undefined until they were read. */
export function useSavedSearches(): readonly SavedSearchView[] | undefined {
  return useQuestion('savedSearches', {}, 30_000).data?.searches;
}

/** Saves a search; rejects with what is in its way, such as that someone else changed it. */
export async function saveSearch(search: Omit<SavedSearchView, 'changedAt'>): Promise<void> {
  await call('saveSearch', search);
  await refresh('savedSearches');
}

export async function removeSearch(name: string): Promise<void> {
  await call('removeSearch', { name });
  await refresh('savedSearches');
}

/** The address of Explore at which a saved search is shown, in a tab of its own. */
export function addressOfSaved({ name, condition, window, summary }: SavedSearchView): string {
  const parts = new URLSearchParams({ w: window });
  if (condition !== '') parts.set('c', condition);
  if (summary !== '') parts.set('view', 'summary');
  if (summary !== '') parts.set('show', summary);
  parts.set('tab', savedTab(name));
  return `/explore?${parts}`;
}

const savedPrefix = 'saved-';

/** The tab in which a saved search is opened. */
export function savedTab(name: string): string {
  return `${savedPrefix}${name}`;
}

/** The saved search that is shown in a tab; undefined for any other tab. */
export function nameOfTab(tab: string): string | undefined {
  return tab.startsWith(savedPrefix) ? tab.slice(savedPrefix.length) : undefined;
}
