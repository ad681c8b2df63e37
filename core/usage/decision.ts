/** What people decide about a suggestion: to put it off, to refuse it, to add it to the draft, or to forget what was decided. */
export const suggestionDecisions = ['put off', 'refuse', 'take', 'reopen'] as const;

export type SuggestionDecision = (typeof suggestionDecisions)[number];

/** A suggestion that was put off or refused. */
export interface DecidedSuggestion {
  /** The id of its shape, or of the change, such as `retention:rest`. */
  readonly id: string;
  /** Until when it is put off (milliseconds); null if it is refused. */
  readonly until: number | null;
  readonly reason: string;
  /** When it was decided (milliseconds). */
  readonly at: number;
}

/** A suggestion that was added to a draft, and what it promised. */
export interface TakenSuggestion {
  readonly shape: string;
  /** When it was taken (milliseconds). */
  readonly at: number;
  /** The tiers that kept its lines. */
  readonly tiers: readonly string[];
  /** Coins that it was to save in 30 days, and the sign of their currency; empty where nothing had a price. */
  readonly coins: number;
  readonly sign: string;
}
