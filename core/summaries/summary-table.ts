import type { TimeWindow } from '../conditions/times.ts';
import type { Unit } from '../events/units.ts';
import { figure, type SummaryValue } from './aggregate-states.ts';
import type { SummaryPartial } from './run-summary.ts';
import type { Formula, Summary } from './summary.ts';

/** What a column of a result measures; `time` is milliseconds since 1970. */
export type ColumnUnit = Unit | 'time' | 'text' | 'count' | 'per-second';

export interface SummaryColumn {
  readonly name: string;
  readonly unit: ColumnUnit;
  readonly key: boolean;
  /** Set where the values of parts add up to that of the whole. */
  readonly additive?: true;
}

export interface SummaryTable {
  readonly columns: readonly SummaryColumn[];
  readonly rows: readonly (readonly SummaryValue[])[];
  /** Groups that were found; the rows may be fewer. */
  readonly groups: number;
  /** Groups that could not be kept. */
  readonly leftOut: number;
}

/** Rows of a result at most, unless the summary says `top`. */
export const maxRows = 5_000;

/** The result of a summary: time bucket and keys first, then its columns. */
export function summaryTable(summary: Summary, partial: SummaryPartial, window: TimeWindow, now: number): SummaryTable {
  const seconds = (summary.every > 0 ? summary.every : Math.max(1, window.to - window.from)) / 1000;
  const bucketed = summary.every > 0;
  const keyNames = [...(bucketed ? ['time'] : []), ...summary.by];
  const rows: SummaryValue[][] = [];
  partial.keys.forEach((key, group) => {
    const values = new Map<string, SummaryValue>();
    const row = { summary, partial, group, seconds, columns: values, now };
    const evaluate = (formula: Formula): SummaryValue => evaluateFormula(formula, row);
    for (const column of summary.columns) values.set(column.name, evaluate(column.formula));
    if (summary.having && !holds(evaluate(summary.having.formula), summary.having)) return;
    rows.push([
      ...(bucketed ? [key.bucket] : []),
      ...key.values,
      ...summary.columns.map((column) => values.get(column.name) ?? null),
    ]);
  });
  const names = [...keyNames, ...summary.columns.map((column) => column.name)];
  const picked = topGroups(sorted(rows, names, keyNames.length, summary), summary, bucketed);
  return {
    columns: [
      ...keyNames.map((name) => ({
        name,
        unit: (bucketed && name === 'time' ? 'time' : 'text') as ColumnUnit,
        key: true,
      })),
      ...summary.columns.map((column) => ({
        name: column.name,
        unit: unitOf(column.formula, summary, partial),
        key: false,
        ...(isAdditive(column.formula, summary) && { additive: true as const }),
      })),
    ],
    rows: picked.slice(0, maxRows),
    groups: partial.keys.length,
    leftOut: partial.leftOut,
  };
}

/** What a formula is evaluated over: one group of a summary, which spans so many seconds. */
interface FormulaRow {
  readonly summary: Summary;
  readonly partial: SummaryPartial;
  readonly group: number;
  readonly seconds: number;
  /** The columns that stand before it, by name. */
  readonly columns: ReadonlyMap<string, SummaryValue>;
  readonly now: number;
}

function evaluateFormula(formula: Formula, row: FormulaRow): SummaryValue {
  const { summary, partial, group, seconds, columns, now } = row;
  const inner = (part: Formula): SummaryValue => evaluateFormula(part, row);
  switch (formula.kind) {
    case 'number':
      return formula.value;
    case 'column':
      return columns.get(formula.name) ?? null;
    case 'aggregate': {
      const aggregate = summary.aggregates[formula.index];
      const state = partial.states[formula.index];
      return aggregate && state ? figure(state, aggregate, group, seconds) : null;
    }
    case 'age': {
      const time = inner(formula.of);
      return typeof time === 'number' ? (now - time) / 1000 : null;
    }
    case 'arithmetic': {
      const left = inner(formula.left);
      const right = inner(formula.right);
      if (typeof left !== 'number' || typeof right !== 'number') return null;
      const value = calculate(formula.operator, left, right);
      return Number.isFinite(value) ? value : null;
    }
  }
}

/** Applies an operator to two numbers, as JavaScript does: dividing by 0 gives an infinity or NaN. */
export function calculate(operator: '+' | '-' | '*' | '/', left: number, right: number): number {
  if (operator === '+') return left + right;
  if (operator === '-') return left - right;
  return operator === '*' ? left * right : left / right;
}

function holds(value: SummaryValue, having: NonNullable<Summary['having']>): boolean {
  if (typeof value !== 'number') return false;
  switch (having.operator) {
    case '=':
      return value === having.value;
    case '!=':
      return value !== having.value;
    case '<':
      return value < having.value;
    case '<=':
      return value <= having.value;
    case '>':
      return value > having.value;
    case '>=':
      return value >= having.value;
  }
}

function compare(a: SummaryValue, b: SummaryValue): number {
  if (typeof a === 'number' && typeof b === 'number') return a - b;
  if (a === null || b === null) return a === b ? 0 : a === null ? -1 : 1;
  return String(a).localeCompare(String(b));
}

function sorted(rows: SummaryValue[][], names: readonly string[], keys: number, summary: Summary): SummaryValue[][] {
  const wanted = summary.sort ? names.indexOf(summary.sort.column) : -1;
  if (summary.sort && wanted >= 0) {
    const direction = summary.sort.descending ? -1 : 1;
    return rows.sort((a, b) => direction * compare(a[wanted] ?? null, b[wanted] ?? null));
  }
  if (summary.every > 0)
    return rows.sort((a, b) => compare(a[0] ?? null, b[0] ?? null) || compare(b[keys] ?? null, a[keys] ?? null));
  return rows.sort((a, b) => compare(b[keys] ?? null, a[keys] ?? null));
}

/** With time buckets `top` keeps the groups that are largest over the whole window, in all their buckets. */
function topGroups(rows: SummaryValue[][], summary: Summary, bucketed: boolean): SummaryValue[][] {
  if (summary.top === 0) return rows;
  if (!bucketed) return rows.slice(0, summary.top);
  const first = 1 + summary.by.length;
  const totals = new Map<string, number>();
  const keyOf = (row: SummaryValue[]): string => JSON.stringify(row.slice(1, first));
  for (const row of rows) {
    const value = row[first];
    totals.set(keyOf(row), (totals.get(keyOf(row)) ?? 0) + (typeof value === 'number' ? value : 0));
  }
  const largest = new Set(
    [...totals]
      .sort((a, b) => b[1] - a[1])
      .slice(0, summary.top)
      .map(([key]) => key),
  );
  return rows.filter((row) => largest.has(keyOf(row)));
}

function isAdditive(formula: Formula, summary: Summary): boolean {
  if (formula.kind !== 'aggregate') return false;
  const name = summary.aggregates[formula.index]?.function;
  return name === 'count' || name === 'sum';
}

function unitOf(formula: Formula, summary: Summary, partial: SummaryPartial): ColumnUnit {
  if (formula.kind === 'age') return 'duration';
  if (formula.kind !== 'aggregate') return 'none';
  const aggregate = summary.aggregates[formula.index];
  if (!aggregate) return 'none';
  if (aggregate.function === 'count' || aggregate.function === 'distinct') return 'count';
  if (aggregate.function === 'rate') return 'per-second';
  if (aggregate.field === 'time' || aggregate.field === 'received') return 'time';
  return partial.units[formula.index] ?? 'none';
}
