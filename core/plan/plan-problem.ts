import { compileCondition } from '../conditions/condition.ts';

/** Something wrong in a plan: where (a path such as `tiers[0].exclusions[1].when`) and what, in a sentence. */
export interface PlanProblem {
  readonly path: string;
  readonly message: string;
}

/** What is wrong with a condition, with the character and what may have been meant. */
export function checkCondition(text: string, path: string): readonly PlanProblem[] {
  const compiled = compileCondition(text);
  if (compiled.ok) return [];
  const { message, start, suggestion } = compiled.problem;
  return [{ path, message: `${message} (character ${start + 1})${suggestion ? `; did you mean ${suggestion}?` : ''}` }];
}

/** Ids that are used twice in a list. */
export function checkIds(items: readonly { readonly id: string }[], path: string): readonly PlanProblem[] {
  return items
    .map((item, i) => ({ item, i }))
    .filter(({ item, i }) => items.findIndex((other) => other.id === item.id) < i)
    .map(({ item, i }) => ({ path: `${path}[${i}].id`, message: `${item.id} is used twice` }));
}

/** A problem at a path if something is so. */
export function problemIf(isWrong: boolean, path: string, message: string): readonly PlanProblem[] {
  return isWrong ? [{ path, message }] : [];
}
