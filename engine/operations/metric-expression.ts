import type { MetricExpressionAnswer, MetricLine } from '#core/answers/metrics.ts';
import { type MetricWindow, metricWindow } from '#core/metrics/metric-window.ts';
import { operations } from '#core/operations/index.ts';
import { emptyOf, keyName } from '#core/plan/parts/metrics/metric.ts';
import {
  type MetricExpression,
  type MetricTerm,
  parseMetricExpression,
  valueOfExpression,
} from '#core/plan/parts/metrics/metric-expression.ts';
import { lineOf } from '../metrics/metric-line.ts';
import { readMetric } from '../metrics/metric-reader.ts';
import { livePlan } from '../plan/stored-plans.ts';
import { usedMetrics } from '../usage/uses.ts';
import { timeOf } from './explore/search.ts';
import { question } from './handler.ts';
import { namesIn } from './names-in.ts';
import { Refusal } from './refusal.ts';
import type { OperationServices } from './services.ts';

/** Most lines that are shown, and most of a metric that they are made of. */
const mostLines = 20;
const mostOfTerm = 1_000;

/** A metric of an expression over a window: all together, and by the values of the keys. */
interface ReadTerm {
  readonly whole: MetricLine | undefined;
  readonly lines: ReadonlyMap<string, MetricLine>;
}

export const metricExpression = question(
  operations.metricExpression,
  async (asked, services): Promise<MetricExpressionAnswer> => {
    const now = Date.now();
    const metrics = (await livePlan(services.database.db)).plan.metrics ?? [];
    const parsed = parseMetricExpression(asked.expression, metrics);
    if (!parsed.ok) {
      const { message, suggestion } = parsed.problem;
      throw new Refusal(400, '', `${message}${suggestion ? `; did you mean ${suggestion}?` : ''}`, {
        problem: parsed.problem,
      });
    }
    const window = metricWindow(timeOf(asked.from, now), timeOf(asked.to, now), now);
    if (window.to <= window.from) throw new Refusal(400, '', 'The window ends before it begins.');
    const keys = commonKeys(parsed.terms);
    const by = namesIn(asked.by);
    const unknown = by.find((name) => !keys.includes(name));
    if (unknown !== undefined) throw new Refusal(400, '', `Not all of these metrics are kept by ${unknown}.`);
    const read = new Map(
      await Promise.all(
        parsed.terms.map(async (term) => [term.name, await readTerm(services, term, window, by)] as const),
      ),
    );
    const used = new Set(parsed.terms.map(({ metric }) => metric.id));
    services.usage.note(usedMetrics(used, window.from, now));
    const steps = Math.round((window.to - window.from) / window.every);
    const lines = linesOf(parsed, read, steps);
    return {
      expression: asked.expression,
      terms: parsed.terms.map(({ name, metric, figure }) => ({ name, metric: metric.name, figure })),
      ...{ ...window, keys, by },
      isRunning: window.to > now,
      whole: putTogether(parsed, (name) => read.get(name)?.whole, steps, []),
      lines: lines.slice(0, mostLines),
      otherCount: Math.max(0, lines.length - mostLines),
    };
  },
);

function commonKeys(terms: readonly MetricTerm[]): readonly string[] {
  const [first = [], ...others] = terms.map(({ metric }) => (metric.by ?? []).map(keyName));
  return first.filter((name) => others.every((names) => names.includes(name)));
}

async function readTerm(
  services: OperationServices,
  { metric, figure }: MetricTerm,
  window: MetricWindow,
  by: readonly string[],
): Promise<ReadTerm> {
  const table = await readMetric(services, metric, { window, figure, by, most: mostOfTerm });
  const empty = emptyOf(metric);
  return {
    whole: table && lineOf(table.whole, empty),
    lines: new Map(
      by.length === 0
        ? []
        : table?.groups.map((group) => [JSON.stringify(group.labels), lineOf(group, empty)] as const),
    ),
  };
}

/** The lines of all values that any of the metrics has, the largest first. */
function linesOf(parsed: MetricExpression, read: ReadonlyMap<string, ReadTerm>, steps: number): readonly MetricLine[] {
  const ids = new Map<string, readonly string[]>();
  for (const { lines } of read.values()) for (const [id, { labels }] of lines) ids.set(id, labels);
  return [...ids]
    .map(([id, labels]) => putTogether(parsed, (name) => read.get(name)?.lines.get(id), steps, labels))
    .sort((a, b) => (b.all ?? Number.NEGATIVE_INFINITY) - (a.all ?? Number.NEGATIVE_INFINITY));
}

function putTogether(
  { expression }: MetricExpression,
  lineOfTerm: (name: string) => MetricLine | undefined,
  steps: number,
  labels: readonly string[],
): MetricLine {
  return {
    labels,
    all: valueOfExpression(expression, (name) => lineOfTerm(name)?.all ?? null),
    values: Array.from({ length: steps }, (_, step) =>
      valueOfExpression(expression, (name) => lineOfTerm(name)?.values[step] ?? null),
    ),
  };
}
