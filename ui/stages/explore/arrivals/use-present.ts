'use client';

import { useEffect, useState } from 'react';

/** The present to the half second, so that rates fall when nothing comes (milliseconds). */
export function usePresent(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  return now;
}
