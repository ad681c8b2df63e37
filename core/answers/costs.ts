import type { Currency } from '../costs/book/price-book.ts';
import type { CoinsOfCost } from '../costs/cost-rows.ts';
import type { CostMonth } from '../costs/month/cost-month.ts';

/** `GET /api/prices` */
export interface PricesAnswer {
  /** The book as YAML; null where there is none. */
  readonly text: string | null;
  /** When it was saved, in milliseconds. */
  readonly savedAt: number | null;
  /** Whether money is shown; false where it is turned off. */
  readonly shown: boolean;
  /** Books that were saved before it, the latest first. */
  readonly history: readonly { readonly savedAt: number; readonly text: string }[];
}

/** `PUT /api/prices` */
export interface SavedPricesAnswer {
  /** When it was saved, in milliseconds: what is changed in it next is based on this. */
  readonly savedAt: number;
}

/** `GET /api/costs` */
export interface CostsAnswer {
  /** Null where there is no price book: nothing is said then. */
  readonly currency: Currency | null;
  /** In milliseconds, whole days of UTC. */
  readonly from: number;
  readonly to: number;
  /** What the rows are by, as it was asked for. */
  readonly by: string;
  readonly all: CoinsOfCost;
  /** When the steps of the window begin, in milliseconds; empty where none were asked for. */
  readonly steps: readonly number[];
  /** The dearest first; what is whole adds up to that of all. */
  readonly rows: readonly CostRow[];
}

/** What goes under one key, or one pair of them. */
export interface CostRow extends CoinsOfCost {
  /** As many as were asked for; empty texts where there is none, a shape by its id. None for the rest: all beyond the other rows. */
  readonly keys: readonly string[];
  /** A line of the shape; empty where shapes are not asked for. */
  readonly line: string;
  /** Coins of each step; they add up to the whole. */
  readonly steps: readonly number[];
}

/** `GET /api/costs/retention` */
export interface RetentionCostAnswer {
  /** The retention that it is about, as it was asked for. */
  readonly keep: string;
  /** Null where there is no price book, or money is turned off. */
  readonly currency: Currency | null;
  /** For 30 days at the volume of the last full week with the retention that the tier has, once it is full. */
  readonly current: CoinsOfCost;
  /** The same with the retention that was asked for. */
  readonly changed: CoinsOfCost;
  /** The first day on which the changed retention has settled, `2026-11-29`; null with less than a week of data: amounts are zero then. */
  readonly settledOn: string | null;
}

/** What changed in a month that bears on its costs. */
export interface CostChange {
  /** When it came into force, in milliseconds. */
  readonly at: number;
  /** The revision of the plan; null where it is prices that changed. */
  readonly revision: number | null;
  readonly text: string;
}

/** `GET /api/costs/month` and `POST /api/prices/trial` */
export interface CostMonthAnswer extends CostMonth {
  /** Revisions and prices that came into force in it, the earliest first. */
  readonly changes: readonly CostChange[];
}
