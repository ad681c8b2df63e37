import type { Currency } from '../costs/book/price-book.ts';
import type { PlanEdit } from '../plan/plan-edit.ts';
import type { Volume } from '../routing/volume.ts';
import type { ShapePiece } from '../shapes/pieces.ts';
import type { DecidedSuggestion } from '../usage/decision.ts';
import type { SavingMonth } from './plan.ts';

/** A ready change that saves something: to keep none of a kind of line that nobody looks for. */
export interface Suggestion {
  readonly shape: string;
  readonly pieces: readonly ShapePiece[];
  /** Its sources, the one with the most bytes first. */
  readonly sources: readonly string[];
  /** The tiers that keep it, the one that keeps the most bytes first. */
  readonly tiers: readonly string[];
  /** What would not be kept any more, a day. */
  readonly saved: Volume;
  /** Its share of all bytes that are kept, 0 to 1. */
  readonly share: number;
  /** Coins that 30 such days would cost less; 0 where nothing has a price. */
  readonly coins: number;
  /** The metrics that go on counting it; empty if nothing at all reads it. */
  readonly metrics: readonly string[];
}

/** A suggestion that was added to a draft, with what it promised beside what it saves. */
export interface FollowedSuggestion extends Pick<Suggestion, 'shape' | 'pieces'> {
  /** When it was taken, in milliseconds. */
  readonly at: number;
  /** Since when its lines are excluded; null while they are not. */
  readonly since: number | null;
  /** By calendar month; empty before anything was excluded, or where nothing has a price. */
  readonly months: readonly SavingMonth[];
}

/** A ready change of the plan that saves something. */
export interface ChangeSuggestion {
  /** Its kind, and its tier or source, such as `retention:rest`. */
  readonly id: string;
  /** What would change, in words. */
  readonly title: string;
  /** Why that loses nothing, in words. */
  readonly reason: string;
  /** What it saves in 30 days, in coins, and half of the 95 % band. */
  readonly coins: number;
  readonly band: number;
  readonly edit: PlanEdit;
}

/** `GET /api/suggestions` */
export interface SuggestionsAnswer {
  /** When the tape was read, in milliseconds. */
  readonly at: number;
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  /** Suggestions that were put off or refused, the last decision first: a shape has pieces, a change that would still be made has a title. */
  readonly decided: readonly (DecidedSuggestion & Pick<Suggestion, 'pieces'> & Pick<ChangeSuggestion, 'title'>)[];
  /** Changes of tiers and fields, what saves most first, at most 20; empty where nothing has a price. */
  readonly changes: readonly ChangeSuggestion[];
  /** Suggestions that were added to a draft, the last one first. */
  readonly taken: readonly FollowedSuggestion[];
  /** What saves most first. */
  readonly suggestions: readonly Suggestion[];
}
