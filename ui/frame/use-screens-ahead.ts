'use client';

import { useEffect } from 'react';
import { stages } from './navigation.tsx';

/** The longest wait for an idle moment before the next screen is fetched anyway (milliseconds). */
const longestBusy = 5_000;

/** Prefetches the code of all stages one by one while the page is idle, so that they open at once. */
export function useScreensAhead(): void {
  useEffect(() => {
    let waiting: number | undefined;
    const fetchNext = (place: number): void => {
      const stage = stages[place];
      if (!stage) return;
      const goOn = (): void => {
        if (waiting !== undefined) fetchNext(place + 1);
      };
      // If this fails, the screen is fetched when it is opened.
      waiting = requestIdleCallback(() => void stage.screen().then(goOn, goOn), { timeout: longestBusy });
    };
    fetchNext(0);
    return () => {
      if (waiting !== undefined) cancelIdleCallback(waiting);
      waiting = undefined;
    };
  }, []);
}
