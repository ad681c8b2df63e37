'use client';

import { parseAsArrayOf, parseAsString, parseAsStringLiteral, useQueryStates } from 'nuqs';
import type { ShapeView } from '../../../data/answers.ts';
import { useQuestion } from '../../../data/client.ts';
import { type MeasureName, measureNames, measureOf } from '../../../data/measures.ts';

/** Shapes that can be compared in one picture. */
export const mostCompared = 6;

/** How often the list is read again, in milliseconds. */
const readEvery = 15_000;

/** Which kinds of lines are asked for, with the window as it is written. */
export interface AskedShapes {
  readonly condition: string;
  readonly from: string;
  readonly to: string;
}

/** The kinds of lines that a condition is about in a window, and what of them is chosen, as the address says it. */
export function useShapes(condition: string, window: string, isShown: boolean) {
  const [{ by, compare }, choose] = useQueryStates({
    by: parseAsStringLiteral(measureNames).withDefault('bytes'),
    compare: parseAsArrayOf(parseAsString).withDefault([]),
  });
  const [from, to = 'now'] = window.split('..');
  const asked: AskedShapes = { condition, from: from ?? '-1h', to: to === '' ? 'now' : to };
  const { data, error } = useQuestion('shapes', isShown ? asked : null, readEvery);
  const measure = measureOf(by, data?.currency);
  const shapes = [...(data?.shapes ?? [])].sort((a, b) => b[measure] - a[measure]);
  return {
    data,
    error,
    shapes,
    /** Where the window is, as it is asked for. */
    asked,
    by,
    measure,
    compared: compare.flatMap((id) => shapes.find((shape) => shape.id === id) ?? []),
    setMeasure: (next: MeasureName): void => void choose({ by: next }),
    setCompared: (shape: ShapeView, isIn: boolean): void => {
      const others = compare.filter((id) => id !== shape.id);
      void choose({ compare: isIn ? [...others, shape.id].slice(-mostCompared) : others });
    },
  };
}

export type Shapes = ReturnType<typeof useShapes>;
