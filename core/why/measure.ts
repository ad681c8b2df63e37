import type { ConditionNode } from '../conditions/ast.ts';
import { type Condition, compileCondition, visit } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { parseSummary } from '../summaries/parse-summary.ts';
import {
  type Aggregate,
  type Formula,
  type Summary,
  type SummaryProblem,
  summaryFields,
} from '../summaries/summary.ts';
import { calculate } from '../summaries/summary-table.ts';
import { type AmountKind, type Amounts, amountKinds, ranked } from './amounts.ts';
import { type EventPrices, eventPriceOf } from './event-prices.ts';

/**
 * A figure to be explained. It is computed from amounts to which each event adds, so the figure of any subset of events follows from
 * sums.
 */
export interface Measure {
  /** The figure as a summary, such as `count()` or `p95(took)`; for a share, the count of all events. */
  readonly summary: Summary;
  /** For a share: the condition for its numerator. */
  readonly shareOf?: Condition;
  /** Whether it is the cost of the events until they expire, in coins. */
  readonly isCost?: true;
  /** For numbers of events or bytes as such, which the ledger counts too. */
  readonly volume?: 'events' | 'bytes';
  /** Whether it counts all that arrives, kept or not, as only the ledger does. */
  readonly isReceived?: true;
  /** For a single percentile: its field. */
  readonly rankOf?: string;
  /** The fields it reads, in lower case. */
  readonly fields: ReadonlySet<string>;
  /** Whether the figures of parts add up to that of the whole. */
  readonly isAdditive: boolean;
  /** How many amounts there are. */
  readonly width: number;
  /** What each row of a batch adds. */
  readonly amountsOf: (batch: EventBatch, context: MeasureContext) => readonly Amounts[];
  /** The figure for summed amounts; NaN if it is undefined. */
  readonly figure: (sums: Float64Array) => number;
}

/** What a measure needs to know about a batch. */
export interface MeasureContext extends ConditionContext {
  /** For costs. */
  readonly prices?: EventPrices | undefined;
}

/** A measure that has a name: as a summary, and what else is known of it. */
interface NamedMeasure extends Pick<Measure, 'volume' | 'isReceived'> {
  readonly summary: string;
}

const named: ReadonlyMap<string, NamedMeasure> = new Map<string, NamedMeasure>([
  ['events', { summary: 'count()', volume: 'events' }],
  ['bytes', { summary: 'sum(raw_bytes)', volume: 'bytes' }],
  ['received events', { summary: 'count()', volume: 'events', isReceived: true }],
  ['received bytes', { summary: 'sum(raw_bytes)', volume: 'bytes', isReceived: true }],
]);

export type ParsedMeasure =
  | { readonly ok: true; readonly measure: Measure }
  | { readonly ok: false; readonly problem: SummaryProblem };

/** Prefix of a share. */
const shareStart = 'share of ';

/**
 * Parses a measure: `events`, `bytes`, `received events`, `received bytes`, `cost`, `share of <condition>`, or one figure of a summary,
 * such as `sum(fare) / count()` or `p95(took)`. A faulty measure gives a problem with its position.
 */
export function parseMeasure(text: string): ParsedMeasure {
  const written = text.trim();
  if (written.startsWith(shareStart)) return parseShare(text);
  if (written === 'cost') return costMeasure();
  const { summary: asSummary, ...known }: NamedMeasure = named.get(written) ?? { summary: written };
  const parsed = parseSummary(asSummary);
  if (!parsed.ok) return parsed;
  const { summary } = parsed;
  const refuse = (message: string): ParsedMeasure => ({
    ok: false,
    problem: { message, start: 0, end: text.length },
  });
  const [column, second] = summary.columns;
  if (!column || second || summary.by.length > 0 || summary.every > 0 || summary.having || summary.top > 0)
    return refuse('use one figure without keys, such as count() or p95(took)');
  if (mentionsAge(column.formula)) return refuse('age() cannot be explained; use another figure');
  const parts: Part[] = [];
  let width = 0;
  for (const aggregate of summary.aggregates) {
    const kind = amountKinds[aggregate.function];
    if (!kind) return refuse(`${aggregate.function}() depends on a single event; use a percentile such as p99`);
    parts.push({ aggregate, kind, base: width });
    width += kind.width;
  }
  return {
    ok: true,
    measure: {
      summary,
      ...known,
      ...rankedField(column.formula, summary),
      fields: new Set(summaryFields(summary).map((field) => field.toLowerCase())),
      isAdditive: isAdditive(column.formula, summary),
      width,
      amountsOf: (batch) => parts.flatMap(({ aggregate, kind, base }) => kind.amounts(batch, aggregate, base)),
      figure: (sums) =>
        figureOf(column.formula, (index) => {
          const { kind, base, aggregate } = parts[index] as Part;
          return kind.figure(sums.subarray(base, base + kind.width), aggregate);
        }),
    },
  };
}

/** The measure that a text says; the text was checked when it came in. */
export function measureOf(text: string): Measure {
  const parsed = parseMeasure(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return parsed.measure;
}

function costMeasure(): ParsedMeasure {
  const events = parseMeasure('count()');
  if (!events.ok) return events;
  return {
    ok: true,
    measure: {
      ...events.measure,
      isCost: true,
      amountsOf: (batch, { prices, tier = '' }) => {
        const { perEvent, perByte } = eventPriceOf(prices, { source: batch.source, tier });
        const values = Float64Array.from(
          batch.weight,
          (weight, row) => weight * (perEvent + perByte * (batch.size[row] as number)),
        );
        return [{ to: 0, values }];
      },
    },
  };
}

function parseShare(text: string): ParsedMeasure {
  const start = text.indexOf(shareStart) + shareStart.length;
  const compiled = compileCondition(text.slice(start));
  if (!compiled.ok) {
    const { problem } = compiled;
    return { ok: false, problem: { ...problem, start: start + problem.start, end: start + problem.end } };
  }
  const { condition } = compiled;
  const all = parseMeasure('events');
  if (!all.ok) return all;
  const { amountsOf, summary } = all.measure;
  return {
    ok: true,
    measure: {
      summary,
      shareOf: condition,
      fields: new Set(fieldsOf(condition.node)),
      isAdditive: false,
      width: 2,
      amountsOf: (batch, context) => {
        const mask = condition.test(batch, context);
        const values = Float64Array.from(batch.weight, (weight, row) => weight * (mask[row] as number));
        return [...amountsOf(batch, context), { to: 1, values }];
      },
      figure: ([events, fitting]) => (fitting as number) / (events as number),
    },
  };
}

function fieldsOf(node: ConditionNode): readonly string[] {
  const fields: string[] = [];
  visit(node, (part) => {
    if ('field' in part) fields.push(part.field.toLowerCase());
  });
  return fields;
}

interface Part {
  readonly aggregate: Aggregate;
  readonly kind: AmountKind;
  /** Number of its first amount. */
  readonly base: number;
}

function figureOf(formula: Formula, aggregate: (index: number) => number): number {
  switch (formula.kind) {
    case 'number':
      return formula.value;
    case 'aggregate':
      return aggregate(formula.index);
    case 'arithmetic':
      return calculate(formula.operator, figureOf(formula.left, aggregate), figureOf(formula.right, aggregate));
    // A measure has one column, which can refer to no other, and ages are refused.
    default:
      return Number.NaN;
  }
}

function mentionsAge(formula: Formula): boolean {
  if (formula.kind === 'arithmetic') return mentionsAge(formula.left) || mentionsAge(formula.right);
  return formula.kind === 'age';
}

/** The field of a figure that is one percentile. */
function rankedField(formula: Formula, { aggregates }: Summary): Pick<Measure, 'rankOf'> {
  const aggregate = formula.kind === 'aggregate' ? aggregates[formula.index] : undefined;
  return aggregate?.field !== undefined && amountKinds[aggregate.function] === ranked
    ? { rankOf: aggregate.field }
    : {};
}

function isAdditive(formula: Formula, { aggregates }: Summary): boolean {
  if (formula.kind !== 'aggregate') return false;
  const name = aggregates[formula.index]?.function;
  return name === 'count' || name === 'sum' || name === 'rate';
}
