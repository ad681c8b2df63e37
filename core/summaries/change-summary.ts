import type { Aggregate, AggregateFunction, Summary, SummaryColumn } from './summary.ts';
import { writeAggregate } from './write-summary.ts';

/** A summary without its text. */
export type SummaryParts = Omit<Summary, 'text'>;

/** Functions without a field. */
export const fieldlessFigures: ReadonlySet<AggregateFunction> = new Set(['count', 'rate']);

/** The function and field of a column; undefined for formulas. */
export function figureOf(summary: SummaryParts, { formula }: SummaryColumn): Aggregate | undefined {
  return formula.kind === 'aggregate' ? summary.aggregates[formula.index] : undefined;
}

/** Replaces a column by a figure, or appends it if `place` is the number of columns. */
export function withFigure(summary: SummaryParts, place: number, figure: Aggregate): SummaryParts {
  const column: SummaryColumn = {
    name: writeAggregate(figure),
    formula: { kind: 'aggregate', index: summary.aggregates.length },
  };
  const columns = [...summary.columns.slice(0, place), column, ...summary.columns.slice(place + 1)];
  return withColumns({ ...summary, aggregates: [...summary.aggregates, figure] }, columns);
}

/** Removes a column; the only one stays. */
export function withoutFigure(summary: SummaryParts, place: number): SummaryParts {
  const columns = summary.columns.filter((_, i) => i !== place);
  return columns.length === 0 ? summary : withColumns(summary, columns);
}

/** Sets the columns, and drops the sorting if its column is gone. */
function withColumns({ sort, ...summary }: SummaryParts, columns: readonly SummaryColumn[]): SummaryParts {
  const isThere = sort !== undefined && [...columns.map(({ name }) => name), ...summary.by].includes(sort.column);
  return { ...summary, columns, ...(isThere && { sort }) };
}

/** Sets the fields to group by; duplicates are dropped. */
export function withKeys(summary: SummaryParts, by: readonly string[]): SummaryParts {
  return withColumns({ ...summary, by: [...new Set(by)] }, summary.columns);
}

/** Keeps only groups whose first figure is above a value; an empty text removes the filter. */
export function withLeast({ having: _, ...summary }: SummaryParts, written: string, value: number): SummaryParts {
  const [first] = summary.columns;
  if (written === '' || !first) return summary;
  return { ...summary, having: { formula: first.formula, operator: '>', value, written } };
}

/** Whether the filter on groups is one that {@link withLeast} sets: the first figure above a value. */
export function isLeast({ having, columns }: SummaryParts): boolean {
  return having?.operator === '>' && JSON.stringify(having.formula) === JSON.stringify(columns[0]?.formula);
}

/** The bucket widths offered for summaries over time (milliseconds). */
export const spans = [1_000, 10_000, 60_000, 300_000, 900_000, 3_600_000, 21_600_000, 86_400_000] as const;

/** Most buckets in a chart. */
const mostStretches = 100;

/** The shortest of {@link spans} that gives a window of this length (milliseconds) at most 100 buckets. */
export function spanFor(length: number): number {
  return spans.find((span) => length / span <= mostStretches) ?? 86_400_000;
}
