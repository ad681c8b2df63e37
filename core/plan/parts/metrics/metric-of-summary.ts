import { withPart } from '../../../conditions/parts.ts';
import { writeField } from '../../../conditions/write.ts';
import { mostKeys } from '../../../metrics/limits.ts';
import type { AggregateFunction, Summary } from '../../../summaries/summary.ts';
import type { MetricDocument } from './metrics-shape.ts';

/** The measure that keeps what a function of a summary tells; what a metric cannot keep has none. */
const measureOfFunction: Partial<Record<AggregateFunction, string>> = {
  count: 'count',
  rate: 'rate',
  sum: 'sum',
  min: 'min',
  max: 'max',
  distinct: 'distinct',
  last: 'last',
  avg: 'distribution',
  median: 'distribution',
  p50: 'distribution',
  p75: 'distribution',
  p90: 'distribution',
  p95: 'distribution',
  p99: 'distribution',
};

/**
 * The beginning of a metric that keeps what a summary of a condition's events tells first; undefined where none can. A count
 * of a field counts the events that have it.
 */
export function metricOfSummary({ aggregates, by }: Summary, condition: string): Partial<MetricDocument> | undefined {
  const [first] = aggregates;
  const measure = first && measureOfFunction[first.function];
  if (!first || !measure) return undefined;
  const isCount = measure === 'count' || measure === 'rate';
  const has = isCount && first.field !== undefined ? `has ${writeField(first.field)}` : undefined;
  const keys = by.filter((name) => !['tier', 'fleet'].includes(name.toLowerCase())).slice(0, mostKeys);
  return {
    when: has === undefined ? condition : withPart(condition, has),
    measure,
    ...(!isCount && first.field !== undefined && { of: first.field }),
    ...(keys.length > 0 && { by: keys.map((field) => ({ field })) }),
  };
}
