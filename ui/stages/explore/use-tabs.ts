'use client';

import { useRouter, useSearchParams } from 'next/navigation';
import { useCallback, useEffect, useRef, useSyncExternalStore } from 'react';
import { addressOf, mainTab, readTabs, type SearchTab, tabOf, withoutTab, withTab, withTitle } from './tabs.ts';

const keptAs = 'explore-tabs';

export interface Tabs {
  /** All of them, the main one first; empty before the browser was asked. */
  readonly tabs: readonly SearchTab[];
  /** The id of the one that is shown. */
  readonly shown: string;
  readonly show: (tab: Pick<SearchTab, 'id' | 'query'>) => void;
  /** Opens another one, which asks for every event at first. */
  readonly open: () => void;
  readonly rename: (id: string, title: string) => void;
  readonly close: (id: string) => void;
}

const listeners = new Set<() => void>();

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  // Other windows keep the same tabs.
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

const keptText = (): string => localStorage.getItem(keptAs) ?? '[]';

/** Changes what is kept now, which another window may have changed meanwhile. */
function keep(change: (tabs: readonly SearchTab[]) => readonly SearchTab[]): void {
  const text = JSON.stringify(change(readTabs(keptText())));
  if (text === keptText()) return;
  localStorage.setItem(keptAs, text);
  for (const listener of listeners) listener();
}

const newId = (): string => Math.random().toString(36).slice(2, 8);

/** Whether the page was loaded at this address, rather than reached by a link within the application. */
function wasLoadedHere(): boolean {
  return performance.getEntriesByType('navigation')[0]?.name === window.location.href;
}

/** The searches that this browser keeps side by side; the address says which is shown, and what it asks. */
export function useTabs(): Tabs {
  const router = useRouter();
  const search = useSearchParams().toString();
  const { id: shown, query } = tabOf(search);
  const text = useSyncExternalStore(subscribe, keptText, () => '[]');
  const isFirst = useRef(true);
  /** The tab for a link from elsewhere, until the address contains it. */
  const movingTo = useRef<string | undefined>(undefined);
  useEffect(() => {
    const kept = readTabs(keptText());
    const before = kept.find(({ id }) => id === shown);
    const isFirstLook = isFirst.current && shown === mainTab;
    isFirst.current = false;
    const isOther = before !== undefined && before.query !== '' && before.query !== query;
    // Without a query the last search is restored; a link from elsewhere opens in a tab of its own.
    if (isFirstLook && isOther && query === '') {
      router.replace(addressOf(before));
      return;
    }
    if (isFirstLook && isOther && wasLoadedHere())
      movingTo.current = kept.find((tab) => tab.query === query)?.id ?? newId();
    if (movingTo.current !== undefined && shown === mainTab) {
      // This takes along changes made in the meantime.
      router.replace(addressOf({ id: movingTo.current, query }));
      return;
    }
    movingTo.current = undefined;
    keep((tabs) => withTab(tabs, { id: shown, query }));
  }, [shown, query, router]);
  const show = useCallback((tab: Pick<SearchTab, 'id' | 'query'>): void => router.push(addressOf(tab)), [router]);
  const close = (id: string): void => {
    const { tabs, next } = withoutTab(readTabs(keptText()), id);
    keep(() => tabs);
    if (id === shown) show(next);
  };
  return {
    tabs: readTabs(text),
    shown,
    show,
    open: () => show({ id: newId(), query: '' }),
    rename: (id, title) => keep((tabs) => withTitle(tabs, id, title)),
    close,
  };
}
