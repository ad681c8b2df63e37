'use client';

import { useEffect, useState } from 'react';

/** A text once it has not changed for some time (milliseconds). */
export function useRested(text: string, time: number): string {
  const [rested, setRested] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setRested(text), time);
    return () => clearTimeout(timer);
  }, [text, time]);
  return rested;
}
