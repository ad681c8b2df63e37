import type { ValidationError } from 'yup';

/** Something that is wrong with an input: where (a path such as `settings.globs[1]`) and what, in words. */
export interface InputProblem {
  readonly path: string;
  readonly message: string;
}

/** Everything that Yup found wrong, each with its place. */
export function problemsOf(error: ValidationError): readonly InputProblem[] {
  const faults = error.inner.length > 0 ? error.inner : [error];
  return faults.map(({ path = '', message }) => ({ path, message }));
}
