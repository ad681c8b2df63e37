import { LRUCache } from 'lru-cache';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';

/** For how long (milliseconds) the tape is not read again for the same plan, the same readers and prices. */
const freshFor = 5 * 60_000;

/** What can be suggested of a plan, whatever was decided. */
export type Suggested = Omit<SuggestionsAnswer, 'decided' | 'taken' | 'changes'>;

/** What was suggested lately, by what it was asked with. */
export type KnownSuggestions = LRUCache<string, Promise<Suggested>>;

/** Remembers what was suggested. */
export function knownSuggestions(): KnownSuggestions {
  return new LRUCache({ max: 4, ttl: freshFor });
}
