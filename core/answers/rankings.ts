import type { DraftState } from '../plan/beside-live.ts';
import type { RankingDocument } from '../plan/parts/rankings/rankings-shape.ts';
import type { TalkerLabels } from '../talkers/talker-labels.ts';

/** A ranking that is kept, or that the draft has. */
export interface RankingView {
  readonly id: string;
  readonly title: string;
  /** Of which events; empty: all. */
  readonly when: string;
  readonly by: readonly string[];
  readonly measure: RankingDocument['measure'];
  /** The field that is summed; empty where none is. */
  readonly of: string;
  /** Whether it is kept whatever the plan says. */
  readonly isReady: boolean;
  /** Whether the live plan has it so, or the draft has it new, changed or taken out. */
  readonly state: DraftState;
  /** Who is first over the last day, and its share; null where nothing came. */
  readonly first: { readonly labels: TalkerLabels; readonly name: string; readonly share: number } | null;
  /** How many contributed over the last day, estimated. */
  readonly distinct: number;
  /** What all contributed, by hours of the last day. */
  readonly trend: readonly number[];
}

/** `GET /api/rankings` */
export interface RankingsAnswer {
  readonly isDraft: boolean;
  /** When the window of shares and trends begins (milliseconds): 24 hours ago, rounded down to the hour. */
  readonly from: number;
  readonly rankings: readonly RankingView[];
}

/** One who contributes. */
export interface RankedTalker {
  readonly labels: TalkerLabels;
  /** In words: a shape by its constant ones. */
  readonly name: string;
  /** At least so much; at most `missed` of the answer more. */
  readonly amount: number;
  /** Of what all contributed who are not left out, 0 to 1. */
  readonly share: number;
  /** By step. */
  readonly values: readonly number[];
  /** Since when (milliseconds) it is in the ranking without a week away; null where that is not known. */
  readonly since: number | null;
}

/** `GET /api/rankings/{id}` */
export interface RankingAnswer extends Pick<RankingView, 'id' | 'title' | 'when' | 'by' | 'measure' | 'of'> {
  /** The window in whole steps, and the length of a step; milliseconds. */
  readonly from: number;
  readonly to: number;
  readonly every: number;
  /** Whether the last step is not over. */
  readonly isRunning: boolean;
  /** The step by which it is ranked (its start, in milliseconds); null: the whole window. */
  readonly at: number | null;
  /** What all contributed who are not left out, and those who are. */
  readonly total: number;
  readonly leftOut: number;
  /** All who are not left out, by step. */
  readonly totals: readonly number[];
  /** By how much amounts may be too low; 0: they are exact. */
  readonly missed: number;
  /** How many there are, estimated where `missed` is not 0. */
  readonly distinct: number;
  /** The first first. */
  readonly talkers: readonly RankedTalker[];
  readonly without: readonly TalkerLabels[];
}
