/** What a summary can compute of a field's values. */
export const aggregateFunctions = [
  'count', 'rate', 'sum', 'avg', 'min', 'max', 'median', 'p50', 'p75', 'p90', 'p95', 'p99', 'distinct', 'first', 'last',
] as const; // biome-ignore format: one list reads better than fifteen lines

export type AggregateFunction = (typeof aggregateFunctions)[number];

/** One figure to be gathered over the events of a group. `field` is absent for `count()` and `rate()`. */
export interface Aggregate {
  readonly function: AggregateFunction;
  readonly field?: string;
}

/** A formula over aggregates: what a column of the result shows. */
export type Formula =
  | { readonly kind: 'aggregate'; readonly index: number }
  | { readonly kind: 'number'; readonly value: number }
  | { readonly kind: 'column'; readonly name: string }
  | { readonly kind: 'age'; readonly of: Formula }
  | {
      readonly kind: 'arithmetic';
      readonly operator: '+' | '-' | '*' | '/';
      readonly left: Formula;
      readonly right: Formula;
    };

export interface SummaryColumn {
  readonly name: string;
  readonly formula: Formula;
}

export interface SummaryHaving {
  readonly formula: Formula;
  readonly operator: '=' | '!=' | '<' | '<=' | '>' | '>=';
  readonly value: number;
  /** The value as it was written, with its unit. */
  readonly written: string;
}

/** What to compute from the events that a condition picks. */
export interface Summary {
  readonly text: string;
  readonly columns: readonly SummaryColumn[];
  /** The aggregates that the columns need, each once. */
  readonly aggregates: readonly Aggregate[];
  /** Up to four keys. */
  readonly by: readonly string[];
  /** Width of the time buckets in milliseconds; 0 for none. */
  readonly every: number;
  readonly having?: SummaryHaving;
  readonly sort?: { readonly column: string; readonly descending: boolean };
  /** Most groups in the result, ranked by the sorting or else by the first column; 0 for the limit of the engine. */
  readonly top: number;
}

/** What is wrong with a summary, and where. */
export interface SummaryProblem {
  readonly message: string;
  readonly start: number;
  readonly end: number;
  readonly suggestion?: string;
}

/** The fields whose values a summary needs, besides its keys. */
export function summaryFields(summary: Summary): readonly string[] {
  return [...new Set([...summary.by, ...summary.aggregates.flatMap(({ field }) => (field ? [field] : []))])];
}
