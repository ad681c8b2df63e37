import type { PlanDocument } from './document.ts';

/** A condition of a plan, and its path there, such as `tiers[0].exclusions[1].when`. */
export interface PlanCondition {
  readonly path: string;
  readonly text: string;
}

/** All conditions of a plan: of pipelines, steps and their branches, tiers and exclusions. */
export function conditionsOf({ pipelines, tiers }: PlanDocument): readonly PlanCondition[] {
  const found: PlanCondition[] = [];
  const walk = (value: unknown, path: string): void => {
    if (Array.isArray(value)) {
      value.forEach((part, index) => {
        walk(part, `${path}[${index}]`);
      });
      return;
    }
    if (typeof value !== 'object' || value === null) return;
    for (const [key, part] of Object.entries(value)) {
      if (key === 'when' && typeof part === 'string') found.push({ path: `${path}.when`, text: part });
      // What a test expects are fields, whatever they are called.
      else if (key !== 'expect') walk(part, `${path}.${key}`);
    }
  };
  walk(pipelines, 'pipelines');
  walk(tiers, 'tiers');
  return found;
}
