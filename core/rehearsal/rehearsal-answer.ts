import type { Currency } from '../costs/book/price-book.ts';
import type { RehearsedParts } from '../plan/parts/rehearsed-parts.ts';
import type { PlanProblem } from '../plan/plan-problem.ts';
import type { Volume } from '../routing/volume.ts';
import type { Bands } from './bands.ts';
import type { CapMeetings } from './cap-meetings.ts';
import type { ChangedEvent } from './changed-events.ts';
import type { FieldChange } from './field-changes.ts';
import type { Move } from './moves.ts';
import type { RehearsedReader } from './reader-finds.ts';
import type { RehearsedSurge } from './rehearsed-surge.ts';
import type { SurgeMoney } from './surge-money.ts';

/** One row of a comparison: daily volume with the live plan and with the draft. */
export interface RehearsalRow {
  readonly id: string;
  readonly live: Volume;
  readonly draft: Volume;
  /** Half of the 95 % bands, in bytes and in events. */
  readonly bands: Bands;
  readonly eventBands: Bands;
}

export interface RehearsalSource extends RehearsalRow {
  /** Share of the source's events that become fields, 0 to 1. */
  readonly liveParsed: number;
  readonly draftParsed: number;
}

export interface RehearsalShape extends RehearsalRow {
  /** An example line; empty if unknown. */
  readonly line: string;
}

/** Coins of live and draft. */
export interface MoneyRow {
  readonly id: string;
  readonly live: number;
  readonly draft: number;
  /** Half of the 95 % bands, in coins. */
  readonly bands: Bands;
}

/**
 * What live and draft cost once everything has its age, in coins: a tape's day as a month of 30, what comes once as it is. The
 * rows of tiers and outcomes add up to what they cost in all.
 */
export interface RehearsalMoney {
  readonly currency: Currency;
  readonly live: number;
  readonly draft: number;
  /** Half of the 95 % bands, in coins. */
  readonly bands: Bands;
  /** By tier: what it keeps. */
  readonly tiers: readonly MoneyRow[];
  /** By outcome: what is not kept. */
  readonly outcomes: readonly MoneyRow[];
  /** By rule (`tier/exclusion`): how much less what it takes away costs than if its tier kept it. */
  readonly rules: readonly Omit<MoneyRow, 'bands'>[];
  /** Total cost of the sources, teams and shapes whose cost changes. */
  readonly sources: readonly MoneyRow[];
  readonly teams: readonly MoneyRow[];
  readonly shapes: readonly MoneyRow[];
  /** What the surge costs; null if none was requested. */
  readonly surge: SurgeMoney | null;
}

/** The form in which findings are stored: a higher number wherever they gain or lose something. */
export const findingsForm = 2;

/** The findings of a rehearsal as they are stored. Costs are added when they are read, since prices may change. */
export interface RehearsalFindings extends Omit<RehearsalAnswer, 'money'> {
  /** {@link findingsForm}; findings of another form, from another version of the product, are not read. */
  readonly form: number;
  /** Shapes are not told apart in them. */
  readonly moves: readonly Move[];
  /** Moves of the shapes in the answer. */
  readonly shapeMoves: readonly Move[];
  /** The team of each source. */
  readonly owners: Readonly<Record<string, string>>;
}

/** The draft compared with the live plan on the same events: per day, or in total for events that arrive once. */
export interface RehearsalAnswer extends RehearsedParts {
  readonly at: number;
  /** Taped records that were run, and the arrivals that they stand for. */
  readonly taped: number;
  readonly arrived: Volume;
  /** Stretch of time that the records are of, in milliseconds. */
  readonly from: number;
  readonly to: number;
  /** The number of averaged days; 0 if figures are totals of the window. */
  readonly span: number;
  /** The number of full days that bands are based on; with fewer than three, bands cover sampling only. */
  readonly days: number;
  /** Sources that are excluded because they have volume on these days, but nothing on the tape. */
  readonly leftOut: readonly string[];
  readonly tiers: readonly RehearsalRow[];
  readonly outcomes: readonly RehearsalRow[];
  readonly rules: readonly RehearsalRow[];
  /** What is kept: of each source, and of the teams and shapes of which the draft keeps something else, those that change most first. */
  readonly sources: readonly RehearsalSource[];
  readonly teams: readonly RehearsalRow[];
  readonly shapes: readonly RehearsalShape[];
  readonly parsed: { readonly live: number; readonly draft: number };
  readonly kept: Omit<RehearsalRow, 'id'>;
  readonly failures: { readonly live: readonly [string, number][]; readonly draft: readonly [string, number][] };
  /** Readers that find more or fewer kept events of the window, those that lose most first. */
  readonly readers: readonly RehearsedReader[];
  /** Tests of pipelines that the draft fails: what fails and why. It cannot be published with them. */
  readonly failedTests: readonly PlanProblem[];
  /** Fields that are added, lost, or of another type; empty if the pipelines are the same. */
  readonly fields: readonly FieldChange[];
  /** Example events that the draft treats differently. */
  readonly changed: readonly ChangedEvent[];
  /** The caps of both plans on a day like those of the span; empty for spans of less than a day. */
  readonly caps: CapMeetings;
  /** The effect of the surge; null if none was requested. */
  readonly surge: RehearsedSurge | null;
  readonly tookMs: number;
  /** What both cost; null where nothing has a price. */
  readonly money: RehearsalMoney | null;
}
