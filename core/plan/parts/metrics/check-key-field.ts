import { type PlanProblem, problemIf } from '../../plan-problem.ts';

/** What events get after metrics and rankings have counted them. */
const later: readonly string[] = ['tier', 'fleet'];

/** What is wrong with a field that values are counted by. */
export function checkKeyField(field: string, path: string): readonly PlanProblem[] {
  return problemIf(
    later.includes(field.toLowerCase()),
    path,
    `this is kept before events get a ${field}: it cannot be a key`,
  );
}
