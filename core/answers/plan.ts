import type { Currency } from '../costs/book/price-book.ts';
import type { StepMeasure } from '../pipelines/step-measures.ts';
import type { PlanDocument } from '../plan/document.ts';
import type { PlanDoubt } from '../plan/doubts/plan-doubt.ts';
import type { Conflict } from '../plan/merge.ts';
import type { PlanChange } from '../plan/plan-change.ts';
import type { PlanProblem } from '../plan/plan-problem.ts';
import type { ShorterTier } from '../plan/retention.ts';
import type { RehearsalAnswer } from '../rehearsal/rehearsal-answer.ts';
import type { Amount } from '../routing/volume-sums.ts';

/** `GET /api/plan` */
export interface PlanAnswer {
  readonly revision: number;
  readonly plan: PlanDocument;
}

/** What goes of a tier that a plan shortens or takes out. Times in milliseconds. */
export interface Leaving extends ShorterTier {
  readonly events: number;
  /** Bytes as they arrived, and as they are stored. */
  readonly bytes: number;
  readonly stored: number;
  readonly from: number;
  readonly to: number;
}

/** `GET /api/plan/draft`: the draft, what it changes, and what is wrong with it. */
export interface DraftAnswer {
  readonly plan: PlanDocument;
  /** No two drafts have the same; it grows with each change. */
  readonly version: number;
  /** The revision that it began from. */
  readonly basedOn: number;
  readonly changes: readonly PlanChange[];
  readonly problems: readonly PlanProblem[];
  /** What is valid and can hardly be meant. */
  readonly doubts: readonly PlanDoubt[];
  readonly rehearsal: RehearsalAnswer | null;
  /** Stored events that go a day after it is published, by tier; only tiers of which some go. */
  readonly leaving: readonly Leaving[];
  /** What others published since the draft began: it would be undone. Empty: it is on the live revision. */
  readonly behind: readonly PlanChange[];
}

/** With a refusal of `PUT /api/plan/draft`: another one changed the draft meanwhile. */
export interface DraftChanged {
  /** The draft as it is now; null: there is none any more. */
  readonly draft: DraftAnswer | null;
}

/** With a refusal of a rebase: where the draft and what others published touch the same thing. */
export interface RebaseConflicts {
  readonly conflicts: readonly Conflict[];
}

/** `GET /api/plan/discarded` */
export interface DiscardedAnswer {
  readonly drafts: readonly {
    readonly id: number;
    readonly discardedAt: number;
    readonly changes: readonly PlanChange[];
  }[];
}

/** Stored events of a tier that are about to go. */
export interface GraceView extends Leaving {
  readonly id: number;
  readonly revision: number;
  readonly until: number;
  /** Whether someone had them kept for their old time. */
  readonly isKept: boolean;
}

/** `GET /api/plan/graces` */
export interface GracesAnswer {
  readonly graces: readonly GraceView[];
}

/** A figure of the same events by the plan before a revision, by the revision as it was rehearsed, and as it was measured. */
export interface ComparedFigure {
  readonly before: number;
  readonly predicted: number;
  readonly measured: number;
}

/** What was predicted of a revision beside what came of it, over the events since it was published, for at most seven days. */
export interface RevisionEffectView {
  /** The stretch that is compared, whole minutes, in milliseconds. */
  readonly from: number;
  readonly to: number;
  /** What arrived in it from the sources that the rehearsal had. */
  readonly arrived: Amount;
  /** Bytes of that, as it arrived, that are kept. */
  readonly kept: ComparedFigure;
  /** Events of that which were parsed. */
  readonly parsed: ComparedFigure;
  /** Sources that the rehearsal did not have; they are left out. */
  readonly newSources: readonly string[];
}

/** Kept bytes of the interval that begins at `start` (milliseconds). */
export interface TimelinePoint {
  readonly start: number;
  readonly predicted: number;
  readonly measured: number;
  /** Half-width of the 95 % band of the prediction. */
  readonly band: number;
}

/** Kept bytes in total, of a tier, of a source, or of a shape of which the revision keeps something else. */
export interface TimelineRow {
  readonly kind: 'all' | 'tier' | 'source' | 'shape';
  readonly id: string;
  /** An example line of a shape; empty for all else, and if unknown. */
  readonly line: string;
  readonly points: readonly TimelinePoint[];
}

/** `GET /api/plan/revisions/{number}/timeline`: predicted and measured volume, by the hour for a day, then by the day for two weeks. */
export interface RevisionTimelineAnswer {
  /** The length of an interval, in milliseconds; null before the first has ended, or without a rehearsal of at least a day. */
  readonly every: number | null;
  readonly rows: readonly TimelineRow[];
  /** Excluded sources: those that the rehearsal did not have. */
  readonly newSources: readonly string[];
  /** Starts of excluded intervals: those in which a posture or an exclusion was switched. */
  readonly switched: readonly number[];
}

/** A published plan with what it changed, and what came of it beside what was predicted. */
export interface RevisionView {
  readonly number: number;
  readonly note: string;
  readonly publishedAt: number;
  readonly changes: readonly PlanChange[];
  /** Whether it was rehearsed before it was published: without that there is nothing to compare with. */
  readonly isRehearsed: boolean;
  /** When the next revision was published, in milliseconds; null while it is live. */
  readonly until: number | null;
  /** Null where it was not rehearsed, and before its first whole minute is over. */
  readonly effect: RevisionEffectView | null;
  /**
   * Coins by which what came while it was live costs less, until it is gone, than it would with the plan before; negative where
   * it costs more. Null where that was not rehearsed, or nothing has a price.
   */
  readonly saved: number | null;
  /** What its rehearsal promised to save in 30 days, in coins with half of the 95 % band; null where that is not known, or in another currency. */
  readonly promised: { readonly coins: number; readonly band: number } | null;
  /** What it saved by calendar month, beside what the rehearsal promised for its days; empty where it is not known. */
  readonly months: readonly SavingMonth[];
}

/** What was promised and what was saved in a calendar month (UTC), in coins. */
export interface SavingMonth {
  /** Such as `2026-12`. */
  readonly month: string;
  /** Days of the month that count, with fractions. */
  readonly days: number;
  /** Null where no rehearsal said it, or in another currency. */
  readonly promised: number | null;
  /** Half of the 95 % band of what was promised. */
  readonly band: number;
  readonly saved: number;
}

/** `GET /api/plan/revisions` */
export interface RevisionsAnswer {
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  readonly revisions: readonly RevisionView[];
}

/** `GET /api/steps`: what each step of the live plan has done since it came into force. */
export interface StepsAnswer {
  readonly revision: number;
  readonly since: number;
  readonly steps: Readonly<Record<string, StepMeasure>>;
}

/** `GET /api/tables` */
export interface TablesAnswer {
  readonly tables: readonly { readonly name: string; readonly changedAt: number }[];
}
