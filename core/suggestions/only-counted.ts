import type { Reader } from '../answers/routing.ts';

/** A metric that is of so many of some lines is of all of them: what is taped is known to half a hundredth. */
const allOfThem = 0.995;

/** The metrics that are of all of some lines; none where somebody looks for the lines themselves. */
export function onlyCountedBy(readers: readonly Reader[]): readonly string[] {
  if (readers.some(({ kind, share }) => kind === 'search' && share > 0)) return [];
  return readers.filter(({ kind, share }) => kind === 'metric' && share >= allOfThem).map(({ name }) => name);
}
