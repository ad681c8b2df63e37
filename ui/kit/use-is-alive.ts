'use client';

import { useSyncExternalStore } from 'react';

const never = (): (() => void) => () => {};

/** Whether the scripts of the page have taken over what the server drew; before that nothing on it answers. */
export function useIsAlive(): boolean {
  return useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
}
