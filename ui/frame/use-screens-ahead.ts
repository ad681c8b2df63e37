'use client';

import { useEffect } from 'react';
import { stages } from './course.tsx';

/** Longest that a page may be busy before the next screen is fetched all the same (milliseconds). */
const longestBusy = 5_000;

/** Fetches the code of all stages while the page has nothing else to do, one after the other, so that they open at once. */
export function useScreensAhead(): void {
  useEffect(() => {
    let waiting: number | undefined;
    const fetchNext = (place: number): void => {
      const stage = stages[place];
      if (!stage) return;
      const goOn = (): void => {
        if (waiting !== undefined) fetchNext(place + 1);
      };
      // One that cannot be fetched now is fetched when it is opened.
      waiting = requestIdleCallback(() => void stage.screen().then(goOn, goOn), { timeout: longestBusy });
    };
    fetchNext(0);
    return () => {
      if (waiting !== undefined) cancelIdleCallback(waiting);
      waiting = undefined;
    };
  }, []);
}
