import type { PlanDocument } from './document.ts';
import { draftOf } from './draft-shape.ts';

/** A plan with each of its conditions (whatever is called `when`, however deep) replaced by another one. */
export function withConditions(plan: PlanDocument, replace: (condition: string) => string): PlanDocument {
  const walk = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(walk);
    if (typeof value !== 'object' || value === null) return value;
    const parts = Object.entries(value).map(([key, part]): readonly [string, unknown] => {
      if (key === 'when' && typeof part === 'string') return [key, replace(part)];
      // What a test expects are fields, whatever they are called.
      return [key, key === 'expect' ? part : walk(part)];
    });
    return Object.fromEntries(parts);
  };
  return draftOf(walk(plan));
}
