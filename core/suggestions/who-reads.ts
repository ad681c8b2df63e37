import type { Reader } from '../answers/routing.ts';

/** A metric that is of so many of some lines is of all of them: what is taped is known to half a hundredth. */
const allOfThem = 0.995;

/** The metrics that are of all of some lines; none where somebody looks for the lines themselves. */
export function onlyCountedBy(readers: readonly Reader[]): readonly string[] {
  if (isLookedFor(readers)) return [];
  return readers.filter(({ kind, share }) => kind === 'metric' && share >= allOfThem).map(({ name }) => name);
}

/** Whether nothing uses some lines: no search or question, no metric, no ranking. Pipelines and exclusions need no lines. */
export function isUnread(readers: readonly Reader[]): boolean {
  return !isLookedFor(readers) && !readers.some(({ kind, share }) => share > 0 && makesFigures.has(kind));
}

const makesFigures: ReadonlySet<Reader['kind']> = new Set<Reader['kind']>(['metric', 'ranking']);

function isLookedFor(readers: readonly Reader[]): boolean {
  return readers.some(({ kind, share }) => share > 0 && (kind === 'search' || kind === 'question'));
}
