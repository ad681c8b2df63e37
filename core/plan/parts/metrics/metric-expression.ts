import { type Expression, type ExpressionProblem, type Operator, parseExpression } from '../../../expressions/parse.ts';
import { measures } from '../../../metrics/measures/index.ts';
import { nearest } from '../../../patterns/nearest.ts';
import type { MetricDocument } from './metrics-shape.ts';

/** A figure of a metric that is in an expression. */
export interface MetricTerm {
  /** As it is written: the name of the metric, with the figure behind a dot where that is not its first. */
  readonly name: string;
  readonly metric: MetricDocument;
  readonly figure: string;
}

/** Several metrics put together, such as `payments.failed / payments.all`. */
export interface MetricExpression {
  readonly expression: Expression;
  readonly terms: readonly MetricTerm[];
}

export type ParsedMetricExpression =
  | ({ readonly ok: true } & MetricExpression)
  | { readonly ok: false; readonly problem: ExpressionProblem };

/** Most metrics in one expression. */
const mostTerms = 10;

/** Parses an expression over metrics: numbers, names, `+ - * / %` and brackets. Names with other signs stand in back quotes. */
export function parseMetricExpression(text: string, metrics: readonly MetricDocument[]): ParsedMetricExpression {
  const parsed = parseExpression(text);
  if (!parsed.ok) return parsed;
  const whole = { start: 0, end: text.length };
  const refused = (message: string, suggestion?: string): ParsedMetricExpression => ({
    ok: false,
    problem: { message, ...whole, ...(suggestion !== undefined && { suggestion }) },
  });
  const odd = foreignPart(parsed.expression);
  if (odd !== undefined) return refused(`metrics are numbers: ${odd} has no place among them`);
  if (parsed.fields.length === 0) return refused('an expression names at least one metric');
  if (parsed.fields.length > mostTerms) return refused(`an expression has at most ${mostTerms} metrics`);
  const terms: MetricTerm[] = [];
  for (const name of parsed.fields) {
    const term = termOf(name, metrics);
    if (!term) {
      const known = metrics.map((metric) => metric.name);
      return refused(`there is no metric ${name}`, nearest(name, known));
    }
    terms.push(term);
  }
  return { ok: true, expression: parsed.expression, terms };
}

function termOf(name: string, metrics: readonly MetricDocument[]): MetricTerm | undefined {
  const named = (wanted: string): MetricDocument | undefined =>
    metrics.find((metric) => metric.name.toLowerCase() === wanted.toLowerCase());
  const exact = named(name);
  if (exact) return { name, metric: exact, figure: measures.get(exact.measure)?.figures[0]?.name ?? '' };
  const dot = name.lastIndexOf('.');
  const metric = dot > 0 ? named(name.slice(0, dot)) : undefined;
  const figure = metric && measures.get(metric.measure)?.figures.find((one) => one.name === name.slice(dot + 1));
  return metric && figure && { name, metric, figure: figure.name };
}

/** What of an expression is no arithmetic, in words; undefined where all of it is. */
function foreignPart(expression: Expression): string | undefined {
  switch (expression.kind) {
    case 'number':
    case 'field':
      return undefined;
    case 'text':
      return 'a text';
    case 'call':
      return `the function ${expression.name}`;
    case 'negative':
      return foreignPart(expression.of);
    case 'operation':
      return expression.operator === '&'
        ? 'the sign &'
        : (foreignPart(expression.left) ?? foreignPart(expression.right));
  }
}

const arithmetic: Readonly<Record<Exclude<Operator, '&'>, (a: number, b: number) => number>> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => a / b,
  '%': (a, b) => a % b,
};

/** The value of an expression; null where one of its metrics has none, or it has no value, as what is divided by 0. */
export function valueOfExpression(expression: Expression, termValue: (name: string) => number | null): number | null {
  switch (expression.kind) {
    case 'number':
      return expression.value;
    case 'field':
      return termValue(expression.name);
    case 'negative': {
      const value = valueOfExpression(expression.of, termValue);
      return value === null ? null : -value;
    }
    case 'operation': {
      if (expression.operator === '&') return null;
      const [left, right] = [
        valueOfExpression(expression.left, termValue),
        valueOfExpression(expression.right, termValue),
      ];
      if (left === null || right === null) return null;
      const value = arithmetic[expression.operator](left, right);
      return Number.isFinite(value) ? value : null;
    }
    default:
      return null;
  }
}
