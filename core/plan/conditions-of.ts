import type { PlanDocument } from './document.ts';
import { draftOf } from './draft-of.ts';
import { planParts } from './parts/index.ts';

/** A condition of a plan, and its path there, such as `tiers[0].exclusions[1].when`. */
export interface PlanCondition {
  readonly path: string;
  readonly text: string;
}

/** All conditions of a plan, in its order. */
export function conditionsOf(plan: PlanDocument): readonly PlanCondition[] {
  const found: PlanCondition[] = [];
  const find = (text: string, path: string): string => {
    found.push({ path, text });
    return text;
  };
  for (const { key } of planParts) replaced(plan[key], key, find);
  return found;
}

/** A plan with each of its conditions replaced by another one. */
export function withConditions(plan: PlanDocument, replace: (condition: string) => string): PlanDocument {
  return draftOf(replaced(plan, '', replace));
}

/** A part of a plan with all that is called `when` replaced, however deep it is. */
function replaced(value: unknown, path: string, replace: (text: string, path: string) => string): unknown {
  if (Array.isArray(value)) return value.map((part, index) => replaced(part, `${path}[${index}]`, replace));
  if (typeof value !== 'object' || value === null) return value;
  const parts = Object.entries(value).map(([key, part]): readonly [string, unknown] => {
    const at = `${path}.${key}`;
    if (key === 'when' && typeof part === 'string') return [key, replace(part, at)];
    // What a test expects are fields, whatever they are called.
    return [key, key === 'expect' ? part : replaced(part, at, replace)];
  });
  return Object.fromEntries(parts);
}
