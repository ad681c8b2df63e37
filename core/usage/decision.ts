/** What people decide about a suggestion: to put it off, to refuse it, or to see it again. */
export const suggestionDecisions = ['put off', 'refuse', 'reopen'] as const;

export type SuggestionDecision = (typeof suggestionDecisions)[number];

/** A suggestion that was put off or refused. */
export interface DecidedSuggestion {
  readonly shape: string;
  /** Until when it is put off (milliseconds); null if it is refused. */
  readonly until: number | null;
  readonly reason: string;
  /** When it was decided (milliseconds). */
  readonly at: number;
}
