import type { Currency } from '../costs/price-book.ts';
import type { Suggestion } from '../suggestions/suggest.ts';

/** `GET /api/suggestions` */
export interface SuggestionsAnswer {
  /** When the tape was read, in milliseconds. */
  readonly at: number;
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  /** What saves most first. */
  readonly suggestions: readonly Suggestion[];
}
