'use client';

import { parseAsArrayOf, parseAsString, useQueryStates } from 'nuqs';

/** The conditions of views beside the first one, and the marks, as the address of the page says them. */
export function useComparedConditions() {
  const [{ beside, mark }, set] = useQueryStates({
    beside: parseAsArrayOf(parseAsString).withDefault([]),
    mark: parseAsArrayOf(parseAsString).withDefault([]),
  });
  return {
    others: beside.slice(0, 2),
    marks: mark,
    setOthers: (others: readonly string[]): void => void set({ beside: others.length > 0 ? [...others] : null }),
    setMarks: (marks: readonly string[]): void => void set({ mark: marks.length > 0 ? [...marks] : null }),
  };
}
