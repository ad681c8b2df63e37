/** A search that is kept beside others. */
export interface SearchTab {
  readonly id: string;
  /** What someone called it; empty: it is called by what it asks. */
  readonly title: string;
  /** Its address: the query of the page, without the tab. */
  readonly query: string;
}

/** The tab that there always is; it has no name in the address. */
export const mainTab = '';
/** Most tabs; of more, the one that was opened first goes. */
export const mostTabs = 12;
/** The part of the address that names the tab. */
const tabKey = 'tab';
/** Parts of the address that are about one visit. */
const passing = [tabKey, 'focus'];

/** The tab that an address names, and the address without it. */
export function tabOf(search: string): { readonly id: string; readonly query: string } {
  const parts = new URLSearchParams(search);
  const id = parts.get(tabKey) ?? mainTab;
  for (const name of passing) parts.delete(name);
  return { id, query: parts.toString() };
}

/** The address of a tab. */
export function addressOf({ id, query }: Pick<SearchTab, 'id' | 'query'>): string {
  const parts = new URLSearchParams(query);
  if (id !== mainTab) parts.set(tabKey, id);
  const text = parts.toString();
  return text === '' ? '/explore' : `/explore?${text}`;
}

/** The tabs after one of them asks something else; one that is not among them is added. */
export function withTab(tabs: readonly SearchTab[], tab: Pick<SearchTab, 'id' | 'query'>): readonly SearchTab[] {
  if (tabs.some(({ id }) => id === tab.id)) return tabs.map((one) => (one.id === tab.id ? { ...one, ...tab } : one));
  const main = tabs.filter(({ id }) => id === mainTab);
  const others = tabs.filter(({ id }) => id !== mainTab);
  const added = { title: '', ...tab };
  if (tab.id === mainTab) return [added, ...others];
  const room = mostTabs - main.length - 1;
  return [...main, ...others.slice(Math.max(0, others.length - room)), added];
}

/** The tabs after one was given a name; an empty name is none. */
export function withTitle(tabs: readonly SearchTab[], id: string, title: string): readonly SearchTab[] {
  return tabs.map((tab) => (tab.id === id ? { ...tab, title: title.trim().slice(0, 60) } : tab));
}

/** The tabs without one of them, and the one that is shown then: the one before it. The main tab stays. */
export function withoutTab(
  tabs: readonly SearchTab[],
  id: string,
): { readonly tabs: readonly SearchTab[]; readonly next: Pick<SearchTab, 'id' | 'query'> } {
  const index = tabs.findIndex((tab) => tab.id === id);
  const left = tabs.filter((tab) => tab.id !== id || id === mainTab);
  return { tabs: left, next: left[Math.max(0, index - 1)] ?? { id: mainTab, query: '' } };
}

/** What a tab is called: its title, or what it asks. */
export function titleOf({ title, query }: SearchTab): string {
  if (title !== '') return title;
  const parts = new URLSearchParams(query);
  const asked = parts.get('c') ?? '';
  const shown = parts.get('view') === 'summary' ? (parts.get('show') ?? '') : '';
  return [asked, shown].filter((part) => part !== '').join(' · ') || 'every event';
}

/** Reads tabs that a browser kept; what is none is left out. */
export function readTabs(text: string | null): readonly SearchTab[] {
  try {
    const value: unknown = JSON.parse(text ?? '[]');
    return Array.isArray(value) ? value.filter(isTab).slice(0, mostTabs) : [];
  } catch {
    return [];
  }
}

function isTab(value: unknown): value is SearchTab {
  return (
    typeof value === 'object' &&
    value !== null &&
    ['id', 'title', 'query'].every((key) => key in value && typeof value[key as keyof typeof value] === 'string')
  );
}
