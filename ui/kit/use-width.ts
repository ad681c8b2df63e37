'use client';

import { type RefCallback, useCallback, useState } from 'react';

/** How wide an element is, in pixels; 0 until that is known. The first part goes to its `ref`. */
export function useWidth(): readonly [RefCallback<HTMLElement>, number] {
  const [width, setWidth] = useState(0);
  const measure = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => setWidth(Math.floor(entry?.contentRect.width ?? 0)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [measure, width];
}
