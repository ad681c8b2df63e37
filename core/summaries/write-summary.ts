import { summaryWords } from './parse-summary.ts';
import type { Aggregate, Formula, Summary, SummaryColumn } from './summary.ts';

/** Writes a summary as text that `parseSummary` reads back as the same summary. */
export function writeSummary(summary: Omit<Summary, 'text'>): string {
  const { columns, aggregates, by, every, having, sort, top } = summary;
  const parts = [columns.map((column) => writeColumn(column, aggregates)).join(', ')];
  if (by.length > 0) parts.push(`by ${by.map(writeName).join(', ')}`);
  if (every > 0) parts.push(`every ${writeSpan(every)}`);
  if (having) parts.push(`having ${writeFormula(having.formula, aggregates)} ${having.operator} ${having.written}`);
  if (sort) parts.push(`sort by ${writeSorted(sort.column, columns)}${sort.descending ? ' desc' : ' asc'}`);
  if (top > 0) parts.push(`top ${top}`);
  return parts.join(' ');
}

/** The name of a field as a summary writes it: in back quotes where it is no plain name. */
export function writeName(name: string): string {
  const isWord = (summaryWords as readonly string[]).includes(name.toLowerCase());
  return /^[A-Za-z_@][\w.@]*$/.test(name) && !isWord ? name : `\`${name}\``;
}

/** A figure over a field, such as `p95(took)`. */
export function writeAggregate({ function: name, field }: Aggregate): string {
  return `${name}(${field === undefined ? '' : writeName(field)})`;
}

/** A span of time (milliseconds) in its largest whole unit: `90s`, `5m`, `1d`. */
export function writeSpan(span: number): string {
  const units = [
    ['d', 86_400_000],
    ['h', 3_600_000],
    ['m', 60_000],
    ['s', 1_000],
  ] as const;
  const found = units.find(([, length]) => span % length === 0);
  return found ? `${span / found[1]}${found[0]}` : `${span}ms`;
}

/** A column: its formula, and its name where that is not just the formula. */
export function writeColumn({ name, formula }: SummaryColumn, aggregates: readonly Aggregate[]): string {
  const text = writeFormula(formula, aggregates);
  const isNamed = name.replace(/\s/g, '') !== text.replace(/\s/g, '');
  return isNamed && !isFormula(name) ? `${text} as ${writeName(name)}` : text;
}

/** Whether a column name is a formula as someone typed it, which need not match our spacing and brackets. */
function isFormula(name: string): boolean {
  return /[()]/.test(name);
}

function writeSorted(column: string, columns: readonly SummaryColumn[]): string {
  const isName = columns.some(({ name }) => name === column) && !isFormula(column);
  return isName || !/[()+*/-]/.test(column) ? writeName(column) : column;
}

function writeFormula(formula: Formula, aggregates: readonly Aggregate[]): string {
  switch (formula.kind) {
    case 'aggregate':
      return writeAggregate(aggregates[formula.index] as Aggregate);
    case 'number':
      return String(formula.value);
    case 'column':
      return writeName(formula.name);
    case 'age':
      return `age(${writeFormula(formula.of, aggregates)})`;
    case 'arithmetic': {
      const inner = (side: Formula, isRight: boolean): string => {
        const text = writeFormula(side, aggregates);
        return side.kind === 'arithmetic' && binds(side.operator) < binds(formula.operator) + Number(isRight)
          ? `(${text})`
          : text;
      };
      return `${inner(formula.left, false)} ${formula.operator} ${inner(formula.right, true)}`;
    }
  }
}

function binds(operator: '+' | '-' | '*' | '/'): number {
  return operator === '+' || operator === '-' ? 1 : 3;
}
