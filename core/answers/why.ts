import type { Currency } from '../costs/book/price-book.ts';
import type { ColumnUnit } from '../summaries/summary-table.ts';
import type { FieldValue } from '../why/causes.ts';
import type { Form } from '../why/onset.ts';
import type { Period } from '../why/periods.ts';

/** Events that explain part of a change. Figures are for periods of equal length. */
export interface WhyRow {
  readonly where: readonly FieldValue[];
  /** A condition for these events, including the one of the question. */
  readonly condition: string;
  /** Their own figure before and since; null without events. */
  readonly before: number | null;
  readonly since: number | null;
  /** `since / before`; null if there was nothing before. */
  readonly ratio: number | null;
  /** The fraction of the change that disappears if these events are replaced by those from before; negative if they counteract it. */
  readonly share: number;
  /** Half of the 95 % confidence interval of the share; 0 if it was not estimated from a sample. */
  readonly band: number;
  /** The whole figure after that replacement. */
  readonly without: number;
  /** Values that nearly all of them have, and few other events. */
  readonly also: readonly FieldValue[];
}

/** Something else that changed at about the same time. */
export interface NearbyChange {
  /** In milliseconds. */
  readonly at: number;
  readonly text: string;
  /** Address of the screen that shows it. */
  readonly link: string;
}

/** `POST /api/why`. Times in milliseconds. */
export interface WhyAnswer {
  /**
   * `values`: the rows explain it. `spread`: no small set of values explains it. `usual`: the figure is within its normal range.
   * `nothing`: too few events to compare.
   */
  readonly verdict: 'values' | 'spread' | 'usual' | 'nothing';
  /**
   * What the figures rest on: the volume ledger, the tape, a sample of the stored events, a sample with the figures of the rows counted
   * over all events, or all events.
   */
  readonly basis: 'ledger' | 'tape' | 'sample' | 'counted' | 'all';
  /** When the change began; absent if no change was found over time. */
  readonly began?: number;
  /** When the figure returned to normal; absent if it has not. */
  readonly ended?: number;
  /** How it changed; `chosen` if two windows were given. */
  readonly form: Form | 'chosen' | 'none';
  /** Unit of the figure; a `share` is 0 to 1; `coins` are of `currency`. */
  readonly unit: ColumnUnit | 'share' | 'coins';
  /** For costs. */
  readonly currency?: Currency;
  /** The compared periods. */
  readonly times: { readonly since: Period; readonly before: readonly Period[] };
  /** The figure before (median of the earlier periods) and since; null without events. */
  readonly before: number | null;
  readonly since: number | null;
  readonly rows: readonly WhyRow[];
  /** The fraction of the change that the rows do not explain. */
  readonly rest: number;
  /** For `spread`: how many values of which field explain 80 % of it. */
  readonly needed?: { readonly field: string; readonly values: number };
  /** The figure over time in intervals of equal width, null without events, and the expected figure if known. */
  readonly series: {
    readonly start: number;
    readonly width: number;
    readonly figures: readonly (number | null)[];
    readonly expected?: readonly number[];
  };
  /** Tiers with matching events that do not reach back far enough to be compared. */
  readonly tiersLeftOut: readonly string[];
  readonly lookedAt: {
    readonly fields: number;
    readonly values: number;
    readonly pairs: number;
    /** Sampled events, and all events of the compared periods. */
    readonly events: number;
    readonly of: number;
  };
  readonly around: readonly NearbyChange[];
  readonly tookMs: number;
}
