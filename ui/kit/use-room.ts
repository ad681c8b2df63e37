'use client';

import { useSyncExternalStore } from 'react';

function subscribe(listener: () => void): () => void {
  window.addEventListener('resize', listener);
  return () => window.removeEventListener('resize', listener);
}

/** How many pixels of the window's height are left beside `taken`, at least `least`. */
export function useRoom(taken: number, least: number): number {
  return useSyncExternalStore(
    subscribe,
    () => Math.max(least, window.innerHeight - taken),
    () => least,
  );
}
