import type { Aggregate, AggregateFunction, Summary, SummaryColumn } from './summary.ts';
import { writeAggregate } from './write-summary.ts';

/** A summary without its text: what is changed in words and then written. */
export type SummaryParts = Omit<Summary, 'text'>;

/** Figures that need no field. */
export const fieldlessFigures: ReadonlySet<AggregateFunction> = new Set(['count', 'rate']);

/** The figure over a field that a column shows by itself; undefined for formulas. */
export function figureOf(summary: SummaryParts, { formula }: SummaryColumn): Aggregate | undefined {
  return formula.kind === 'aggregate' ? summary.aggregates[formula.index] : undefined;
}

/** The summary with a figure in the place of a column, or behind the last one. */
export function withFigure(summary: SummaryParts, place: number, figure: Aggregate): SummaryParts {
  const column: SummaryColumn = {
    name: writeAggregate(figure),
    formula: { kind: 'aggregate', index: summary.aggregates.length },
  };
  const columns = [...summary.columns.slice(0, place), column, ...summary.columns.slice(place + 1)];
  return withColumns({ ...summary, aggregates: [...summary.aggregates, figure] }, columns);
}

/** The summary without a column; the last one stays. */
export function withoutFigure(summary: SummaryParts, place: number): SummaryParts {
  const columns = summary.columns.filter((_, i) => i !== place);
  return columns.length === 0 ? summary : withColumns(summary, columns);
}

/** Columns by whose name it was sorted may be gone: it is then sorted as it is without a word. */
function withColumns({ sort, ...summary }: SummaryParts, columns: readonly SummaryColumn[]): SummaryParts {
  const isThere = sort !== undefined && [...columns.map(({ name }) => name), ...summary.by].includes(sort.column);
  return { ...summary, columns, ...(isThere && { sort }) };
}

/** The summary grouped by other fields, each once. */
export function withKeys(summary: SummaryParts, by: readonly string[]): SummaryParts {
  return withColumns({ ...summary, by: [...new Set(by)] }, summary.columns);
}

/** The summary with only those groups whose first figure is over a value; all of them where the value is empty. */
export function withLeast({ having: _, ...summary }: SummaryParts, written: string, value: number): SummaryParts {
  const [first] = summary.columns;
  if (written === '' || !first) return summary;
  return { ...summary, having: { formula: first.formula, operator: '>', value, written } };
}

/** Spans of time that a summary is offered by, in milliseconds. */
export const spans = [1_000, 10_000, 60_000, 300_000, 900_000, 3_600_000, 21_600_000, 86_400_000] as const;

/** Stretches of time that a picture shows well, at most. */
const mostStretches = 100;

/** The shortest of the {@link spans} that cuts a window (milliseconds) into no more stretches than a picture shows well. */
export function spanFor(length: number): number {
  return spans.find((span) => length / span <= mostStretches) ?? 86_400_000;
}
