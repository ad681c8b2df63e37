import { LRUCache } from 'lru-cache';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';

/** For how long (milliseconds) the tape is not read again for the same plan, the same readers and prices. */
const freshFor = 5 * 60_000;

/** The same while shapes on the tape are new and not decided about yet, which takes seconds: nothing can be suggested of them until then. */
export const unsettledFor = 10_000;

/** What can be suggested of a plan, whatever was decided. */
export interface Suggested extends Omit<SuggestionsAnswer, 'decided' | 'taken' | 'changes'> {
  /** Whether all shapes on the tape have been decided about. */
  readonly isSettled: boolean;
}

/** What was suggested lately, by what it was asked with. */
export type KnownSuggestions = LRUCache<string, Promise<Suggested>>;

/** Remembers what was suggested. */
export function knownSuggestions(): KnownSuggestions {
  return new LRUCache({ max: 4, ttl: freshFor });
}
