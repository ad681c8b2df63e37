'use client';

import { useEffect } from 'react';

/** The screens of all stages, the likeliest next ones first. */
const screens: readonly (() => Promise<unknown>)[] = [
  () => import('./sources/sources.tsx'),
  () => import('./explore/explore.tsx'),
  () => import('./parsing/parsing.tsx'),
  () => import('./routing/routing.tsx'),
  () => import('./metrics/metrics.tsx'),
  () => import('./costs/costs.tsx'),
  () => import('./changes/changes.tsx'),
  () => import('./overview/overview.tsx'),
];

/** Longest that a page may be busy before the next screen is got ready all the same (milliseconds). */
const longestBusy = 5_000;

/** Gets the code of all screens ready while the page has nothing else to do, one after the other, so that a stage opens at once. */
export function useScreensAhead(): void {
  useEffect(() => {
    let waiting: number | undefined;
    const prepare = (place: number): void => {
      const screen = screens[place];
      if (!screen) return;
      waiting = requestIdleCallback(() => void screen().then(() => waiting !== undefined && prepare(place + 1)), {
        timeout: longestBusy,
      });
    };
    prepare(0);
    return () => {
      if (waiting !== undefined) cancelIdleCallback(waiting);
      waiting = undefined;
    };
  }, []);
}
