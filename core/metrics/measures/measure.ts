import type { AggregateState, SummaryValue } from '../../summaries/aggregate-states.ts';
import type { Aggregate } from '../../summaries/summary.ts';

/** What a measure needs of an event: nothing, a number in a field, or any value of it. */
export type MeasuredField = 'none' | 'number' | 'value';

/** A figure that points of a measure give, such as `p95`. */
export interface MeasureFigure {
  readonly name: string;
  /** The figure of a point, over `seconds` of time; null where there is none. */
  readonly of: (states: readonly AggregateState[], place: number, seconds: number) => SummaryValue;
}

/** A way of keeping a number of the events of a minute. Points of the same measure can be merged. */
export interface Measure {
  readonly name: string;
  /** In a few words, as in “distribution of took”. */
  readonly title: string;
  /** A sentence: what it keeps, and what for. */
  readonly help: string;
  readonly field: MeasuredField;
  /** The measure whose points it keeps: mostly its own. */
  readonly points: string;
  /** What its points are made of. */
  readonly aggregates: (field: string) => readonly Aggregate[];
  /** What a point can be asked for; the first is shown where one is. */
  readonly figures: readonly MeasureFigure[];
  /** Whether the figures of parts add up to that of the whole. */
  readonly additive: boolean;
  /** What OpenMetrics calls it. */
  readonly exposed: 'counter' | 'gauge' | 'histogram';
}
