'use client';

import { useEffect, useMemo, useRef, useSyncExternalStore } from 'react';
import { emptyFeed, type Feed } from './feed.ts';
import { FeedStore } from './feed-store.ts';

/** Follows what comes in by up to three conditions, as long as the page is open; nothing while there are none. */
export function useArrivals(conditions: readonly string[]): FeedStore {
  const asked = JSON.stringify(conditions);
  const before = useRef<FeedStore>(undefined);
  const store = useMemo(() => new FeedStore(JSON.parse(asked), before.current), [asked]);
  useEffect(() => {
    before.current = store;
    return store.follow();
  }, [store]);
  return store;
}

/** One of the views, drawn anew with every frame. */
export function useFeed(store: FeedStore, view: number): Feed {
  return useSyncExternalStore(
    store.subscribe,
    () => store.feed(view) ?? emptyFeed,
    () => emptyFeed,
  );
}

/** What is said of all views: it changes rarely. */
export function useFeedState(store: FeedStore): FeedStore['state'] {
  return useSyncExternalStore(
    store.subscribe,
    () => store.state,
    () => store.state,
  );
}
