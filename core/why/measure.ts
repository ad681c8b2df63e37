import type { ConditionNode } from '../conditions/ast.ts';
import { type Condition, compileCondition, visit } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { valueAt } from '../events/columns.ts';
import { encode, hashBytes } from '../events/text-table.ts';
import { bucketOf, perDoubling } from '../sketches/quantiles.ts';
import { numbersOf } from '../summaries/gather-aggregate.ts';
import { columnsFor } from '../summaries/key-codes.ts';
import { parseSummary } from '../summaries/parse-summary.ts';
import {
  type Aggregate,
  type AggregateFunction,
  type Formula,
  type Summary,
  type SummaryProblem,
  summaryFields,
} from '../summaries/summary.ts';

/**
 * A figure whose change is explained. It is computed from amounts that add up: each event adds to some of them, so the figure of any
 * set of events follows from sums.
 */
export interface Measure {
  /** The figure as a summary has it, such as `count()` or `p95(took)`; of a share that of all events. */
  readonly summary: Summary;
  /** Of a share: which events it is the share of. */
  readonly shareOf?: Condition;
  /** Of a percentile by itself: the field whose values are ranked. */
  readonly rankOf?: string;
  /** The fields that it looks at, in lower case. */
  readonly fields: ReadonlySet<string>;
  /** Whether the figures of parts add up to that of the whole. */
  readonly isAdditive: boolean;
  /** How many amounts there are. */
  readonly width: number;
  /** What each row of a batch adds. */
  readonly amountsOf: (batch: EventBatch, context: ConditionContext) => readonly Amounts[];
  /** The figure of events whose amounts add up to these; NaN of none. */
  readonly figure: (sums: Float64Array) => number;
}

/** What the rows of a batch add to one amount each. */
export interface Amounts {
  /** The number of the amount, by row; for all rows where it is one number. */
  readonly to: Int32Array | number;
  /** How much, by row, weights counted; 0 for nothing. */
  readonly values: Float64Array;
}

/** What stands for a measure that is asked for by its name. */
const named: Readonly<Record<string, string>> = { events: 'count()', bytes: 'sum(raw_bytes)' };

export type ParsedMeasure =
  | { readonly ok: true; readonly measure: Measure }
  | { readonly ok: false; readonly problem: SummaryProblem };

/** What stands before a condition whose share of all events is measured. */
const shareStart = 'share of ';

/**
 * Reads a measure: `events`, `bytes`, the share of the events for which a condition holds, as in `share of severity >= error`, or one
 * figure as in a summary, such as `sum(fare) / count()` or `p95(took)`.
 */
export function parseMeasure(text: string): ParsedMeasure {
  const written = text.trim();
  if (written.startsWith(shareStart)) return parseShare(text);
  const parsed = parseSummary(named[written] ?? written);
  if (!parsed.ok) return parsed;
  const { summary } = parsed;
  const refuse = (message: string): ParsedMeasure => ({
    ok: false,
    problem: { message, start: 0, end: text.length },
  });
  const [column, second] = summary.columns;
  if (!column || second || summary.by.length > 0 || summary.every > 0 || summary.having || summary.top > 0)
    return refuse('a change is explained for one figure, such as count() or p95(took), without keys');
  if (mentionsAge(column.formula)) return refuse('the age of an event is no figure that events account for');
  const parts: Part[] = [];
  let width = 0;
  for (const aggregate of summary.aggregates) {
    const kind = kinds[aggregate.function];
    if (!kind)
      return refuse(
        `${aggregate.function}() is that of a single event, for which no others account: ask for a percentile, such as p99`,
      );
    parts.push({ aggregate, kind, base: width });
    width += kind.width;
  }
  return {
    ok: true,
    measure: {
      summary,
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
  readonly kind: PartKind;
  /** Number of its first amount. */
  readonly base: number;
}

/** How an aggregate follows from amounts that add up. */
interface PartKind {
  readonly width: number;
  readonly amounts: (batch: EventBatch, aggregate: Aggregate, base: number) => readonly Amounts[];
  readonly figure: (sums: Float64Array, aggregate: Aggregate) => number;
}

/** Slots of a histogram: sixteen to a doubling, from a millionth to 2^44; the first is for 0 and less. */
const slotsToDoubling = 16;
const histogramSlots = 1_024;
const lowestSlot = -20 * slotsToDoubling;

/** Slots of distinct values: of so many the count is known to about a hundredth (linear counting, K.-Y. Whang and others 1990). */
const distinctSlots = 8_192;
/** What is left of a hash of 32 bits is a slot. */
const distinctShift = 19;

const counted: PartKind = {
  width: 1,
  amounts: (batch, { field }, base) => [
    { to: base, values: field === undefined ? Float64Array.from(batch.weight) : weightOfPresent(batch, field) },
  ],
  figure: (sums) => sums[0] as number,
};

const summed: PartKind = {
  width: 1,
  amounts: (batch, { field }, base) => [{ to: base, values: weighted(batch, field as string, (value) => value) }],
  figure: (sums) => sums[0] as number,
};

const averaged: PartKind = {
  width: 2,
  amounts: (batch, { field }, base) => [
    { to: base, values: weighted(batch, field as string, (value) => value) },
    { to: base + 1, values: weighted(batch, field as string, () => 1) },
  ],
  figure: ([sum, count]) => (sum as number) / (count as number),
};

const ranked: PartKind = {
  width: histogramSlots,
  amounts: (batch, { field }, base) => {
    const numbers = numbersOf(batch, field as string);
    const to = new Int32Array(batch.rows).fill(base);
    for (let row = 0; row < (numbers?.length ?? 0); row++) to[row] = base + slotOf(numbers?.[row] as number);
    return [{ to, values: weighted(batch, field as string, () => 1) }];
  },
  figure: (sums, { function: name }) => quantileOf(sums, name === 'median' ? 0.5 : Number(name.slice(1)) / 100),
};

const told: PartKind = {
  width: distinctSlots,
  amounts: (batch, { field }, base) => {
    const to = new Int32Array(batch.rows).fill(base);
    const values = new Float64Array(batch.rows);
    const columns = columnsFor(batch, field as string);
    for (let row = 0; columns && row < batch.rows; row++) {
      const value = valueAt(columns, row);
      if (value === undefined) continue;
      const bytes = encode(String(value));
      to[row] = base + (Math.imul(hashBytes(bytes, 0, bytes.length), 0x9e3779b1) >>> distinctShift);
      values[row] = batch.weight[row] as number;
    }
    return [{ to, values }];
  },
  figure: (sums) => {
    const empty = sums.reduce((count, sum) => count + (sum > tiny ? 0 : 1), 0);
    return distinctSlots * Math.log(distinctSlots / Math.max(1, empty));
  },
};

/** What is left of a sum of which all was taken away. */
const tiny = 1e-9;

const kinds: Readonly<Record<AggregateFunction, PartKind | undefined>> = {
  count: counted,
  rate: counted,
  sum: summed,
  avg: averaged,
  min: undefined,
  max: undefined,
  median: ranked,
  p50: ranked,
  p75: ranked,
  p90: ranked,
  p95: ranked,
  p99: ranked,
  distinct: told,
  first: undefined,
  last: undefined,
};

function weightOfPresent(batch: EventBatch, field: string): Float64Array {
  const columns = columnsFor(batch, field);
  return Float64Array.from(batch.weight, (weight, row) =>
    columns && valueAt(columns, row) !== undefined ? weight : 0,
  );
}

function weighted(batch: EventBatch, field: string, of: (value: number) => number): Float64Array {
  const numbers = numbersOf(batch, field);
  return Float64Array.from(batch.weight, (weight, row) => {
    const value = numbers?.[row] ?? Number.NaN;
    return value - value === 0 ? weight * of(value) : 0;
  });
}

function slotOf(value: number): number {
  if (!(value > 0) || value === Number.POSITIVE_INFINITY) return 0;
  const slot = Math.floor((bucketOf(value) * slotsToDoubling) / perDoubling) - lowestSlot;
  return Math.min(histogramSlots - 1, Math.max(1, slot));
}

/** The value below which the share `rank` of a histogram lies; within a slot as if its values lay evenly. */
function quantileOf(sums: Float64Array, rank: number): number {
  let total = 0;
  for (const sum of sums) total += Math.max(0, sum);
  if (total <= tiny) return Number.NaN;
  let left = rank * total;
  for (let slot = 0; slot < sums.length; slot++) {
    const sum = Math.max(0, sums[slot] as number);
    if (sum === 0 || left > sum) {
      left -= sum;
      continue;
    }
    return slot === 0 ? 0 : 2 ** ((slot + lowestSlot + left / sum) / slotsToDoubling);
  }
  return Number.NaN;
}

function figureOf(formula: Formula, aggregate: (index: number) => number): number {
  switch (formula.kind) {
    case 'number':
      return formula.value;
    case 'aggregate':
      return aggregate(formula.index);
    case 'arithmetic': {
      const left = figureOf(formula.left, aggregate);
      const right = figureOf(formula.right, aggregate);
      if (formula.operator === '+') return left + right;
      if (formula.operator === '-') return left - right;
      return formula.operator === '*' ? left * right : left / right;
    }
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
  return aggregate?.field !== undefined && kinds[aggregate.function] === ranked ? { rankOf: aggregate.field } : {};
}

function isAdditive(formula: Formula, { aggregates }: Summary): boolean {
  if (formula.kind !== 'aggregate') return false;
  const name = aggregates[formula.index]?.function;
  return name === 'count' || name === 'sum' || name === 'rate';
}
