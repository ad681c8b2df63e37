import { builtInFields } from '../conditions/ast.ts';
import { failureAttribute } from '../events/batch.ts';
import type { StepProblem } from './step.ts';

const reserved: ReadonlySet<string> = new Set([...builtInFields, failureAttribute]);

/** Whether a name is one that every event has, so that no step may give it to an attribute. */
export function isReserved(name: string): boolean {
  return reserved.has(name.toLowerCase());
}

/** The problem of a step that would make a field of that name; none when it may. */
export function checkMade(name: string, path: string): readonly StepProblem[] {
  return isReserved(name) ? [{ path, message: `${name} is built in: choose another name` }] : [];
}
