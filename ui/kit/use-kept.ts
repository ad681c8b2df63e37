'use client';

import { useCallback, useEffect, useState } from 'react';

/** A value that this browser keeps under a name; `first` where it keeps none yet, or nothing that can be read. */
export function useKept<Value>(name: string, first: Value): readonly [Value, (value: Value) => void] {
  const [value, setValue] = useState(first);
  useEffect(() => {
    try {
      const kept = localStorage.getItem(name);
      if (kept !== null) setValue(JSON.parse(kept));
    } catch {
      localStorage.removeItem(name);
    }
  }, [name]);
  const keep = useCallback(
    (next: Value): void => {
      setValue(next);
      localStorage.setItem(name, JSON.stringify(next));
    },
    [name],
  );
  return [value, keep];
}
