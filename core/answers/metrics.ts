import type { Currency } from '../costs/book/price-book.ts';
import type { MeasuredField } from '../metrics/measures/measure.ts';
import type { DistinctEstimate } from '../metrics/series-estimate.ts';
import type { DraftState } from '../plan/beside-live.ts';
import type { EmptyValue, MetricKey } from '../plan/parts/metrics/metrics-shape.ts';

/** What a metric can keep of events. */
export interface MeasureView {
  readonly name: string;
  readonly title: string;
  readonly help: string;
  readonly field: MeasuredField;
}

/** A metric of the plan, or of the draft where there is one. */
export interface MetricView {
  readonly id: string;
  readonly name: string;
  readonly help: string;
  readonly when: string;
  readonly measure: string;
  /** The field that is measured; empty where events themselves are. */
  readonly of: string;
  readonly by: readonly MetricKey[];
  readonly unit: string;
  readonly empty: EmptyValue;
  readonly limit: number;
  /** How long it is kept, in milliseconds. */
  readonly keep: number;
  /** Whether the live plan has it so, or the draft has it new, changed or taken out. */
  readonly state: DraftState;
  /** Series that something came for in the last 30 days. */
  readonly series: number;
  /** The key that brought more values than there is room for; empty where there is room. */
  readonly grownKey: string;
  /** Coins a month for its series; 0 where nothing has a price. */
  readonly coins: number;
  /** The figure that is shown of it, such as `p95`. */
  readonly figure: string;
  /** That figure over the last day, by half hours; null where nothing came. */
  readonly trend: readonly (number | null)[];
}

/** `GET /api/metrics` */
export interface MetricsAnswer {
  readonly isDraft: boolean;
  /** Null where series have no price. */
  readonly currency: Currency | null;
  readonly metrics: readonly MetricView[];
  /** Series of the live plan's metrics, and coins a month for them. */
  readonly series: number;
  readonly coins: number;
  readonly measures: readonly MeasureView[];
}

/** A line of a metric's chart. */
export interface MetricLine {
  /** The values of the keys; empty for all together. */
  readonly labels: readonly string[];
  /** By step; null where nothing came. */
  readonly values: readonly (number | null)[];
  /** Over the whole window. */
  readonly all: number | null;
}

/** `GET /api/metrics/{id}` */
export interface MetricAnswer {
  readonly id: string;
  readonly name: string;
  readonly unit: string;
  /** Which events it is of. */
  readonly when: string;
  /** What is shown, and what else can be. */
  readonly figure: string;
  readonly figures: readonly string[];
  /** The window in whole steps, and the length of a step; milliseconds. */
  readonly from: number;
  readonly to: number;
  readonly every: number;
  /** Whether the last step is not over. */
  readonly isRunning: boolean;
  /** Names of the keys that it can be split by, and by which it is. */
  readonly keys: readonly string[];
  readonly by: readonly string[];
  readonly whole: MetricLine;
  /** The largest first. */
  readonly lines: readonly MetricLine[];
  /** All others together, and how many they are. */
  readonly others: MetricLine | null;
  readonly otherCount: number;
  /** As long a window before this one; null where it was not asked for. */
  readonly before: MetricLine | null;
  /** When it began to see what arrives (milliseconds); null where that is not known. */
  readonly begun: number | null;
  /** How far it was filled in from events that were stored before: from which time on (milliseconds); null: it was not. */
  readonly fill: { readonly from: number; readonly isDone: boolean } | null;
  /** The revisions in which it was changed. */
  readonly revisions: readonly { readonly revision: number; readonly at: number; readonly text: string }[];
}

/** `GET /api/metric-expression` */
export interface MetricExpressionAnswer {
  readonly expression: string;
  /** The metrics in it as they are written, by name and figure. */
  readonly terms: readonly { readonly name: string; readonly metric: string; readonly figure: string }[];
  /** The window in whole steps, and the length of a step; milliseconds. */
  readonly from: number;
  readonly to: number;
  readonly every: number;
  /** Whether the last step is not over. */
  readonly isRunning: boolean;
  /** Keys that all of its metrics have, and by which it is split. */
  readonly keys: readonly string[];
  readonly by: readonly string[];
  /** Over all; null where one of its metrics has nothing, or there is no value. */
  readonly whole: MetricLine;
  /** The largest over the window first. */
  readonly lines: readonly MetricLine[];
  readonly otherCount: number;
}

/** A key of a metric that is being made. */
export interface TriedKey {
  readonly name: string;
  readonly values: DistinctEstimate;
  /** Whether its values are without end, as those of users or requests are. */
  readonly isOpen: boolean;
  /** Some values with the share of events that have them, the most frequent first. */
  readonly samples: readonly { readonly value: string; readonly share: number }[];
  /** Series without it, and with its twenty most frequent values alone; coins a month for them. */
  readonly without: { readonly series: number; readonly coins: number };
  readonly top: { readonly series: number; readonly coins: number };
}

/** `POST /api/metric-trial` */
export interface MetricTrialAnswer {
  /** Taped records that it would be made of, and the events that they stand for. */
  readonly records: number;
  readonly events: number;
  readonly currency: Currency | null;
  /** Series by the tape's day, in 30 days, and in the time that it is kept. */
  readonly series: DistinctEstimate;
  readonly inMonth: number;
  readonly inAll: number;
  /** Coins a month for those of 30 days, at most as many as its limit. */
  readonly coins: number;
  /** Coins a month for all of them, were there no limit. */
  readonly priceOfAll: number;
  readonly keys: readonly TriedKey[];
  /** Figures over the tape's day by their names. */
  readonly figures: readonly { readonly name: string; readonly value: number | null }[];
  readonly from: number;
  readonly to: number;
  readonly every: number;
  readonly whole: MetricLine;
  readonly lines: readonly MetricLine[];
  readonly otherCount: number;
  /** What is wrong with it, by where it is in the metric; then there is nothing else. */
  readonly problems: readonly { readonly path: string; readonly message: string }[];
}
