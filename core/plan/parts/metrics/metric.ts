import { conditionOf } from '../../../conditions/condition.ts';
import { parseDuration } from '../../../events/units.ts';
import type { CompiledKey, CompiledMetric } from '../../../metrics/compiled-metric.ts';
import { usualKeep, usualLimit } from '../../../metrics/limits.ts';
import { measures } from '../../../metrics/measures/index.ts';
import type { Measure } from '../../../metrics/measures/measure.ts';
import { pointsOf } from '../../../metrics/stored-points.ts';
import { noResources, type StepResources } from '../../../steps/step.ts';
import type { PlanDocument } from '../../document.ts';
import type { EmptyValue, MetricDocument, MetricKey } from './metrics-shape.ts';

/** Compiles the metrics of a plan that has been checked. */
export function compileMetrics(
  { metrics = [] }: Pick<PlanDocument, 'metrics'>,
  resources: StepResources,
): readonly CompiledMetric[] {
  return metrics.map((metric) => compileMetric(metric, resources));
}

/** Compiles a metric that has been checked. */
export function compileMetric(metric: MetricDocument, resources: StepResources = noResources): CompiledMetric {
  const measure = measureOf(metric);
  const field = metric.of ?? '';
  return {
    id: metric.id,
    name: metric.name,
    when: conditionOf(metric.when),
    measure,
    field,
    aggregates: measure.aggregates(field),
    keys: (metric.by ?? []).map((key) => compileKey(key, resources)),
    limit: limitOf(metric),
    unit: metric.unit ?? '',
  };
}

function compileKey({ field, top, table, column }: MetricKey, resources: StepResources): CompiledKey {
  // Looked up when events come: a table may change while the plan stays the same.
  const lookUp = (value: string): string | null => {
    const found = resources.table(table ?? '');
    return found?.find(value)?.[found.columns.indexOf(column ?? '')] ?? null;
  };
  const through = table === undefined ? undefined : lookUp;
  return { name: keyName({ field, column }), field, top, through };
}

/** As the labels of a key are called. */
export function keyName({ field, column }: Pick<MetricKey, 'field' | 'column'>): string {
  return column ?? field;
}

/** The measure of a metric; throws where there is none of that name. */
export function measureOf({ measure }: Pick<MetricDocument, 'measure'>): Measure {
  const known = measures.get(measure);
  if (!known) throw new Error(`${measure} is no measure`);
  return known;
}

/** Under which its points stand in the store, besides its id. */
export function pointsName(metric: Pick<MetricDocument, 'measure' | 'of'>): string {
  return pointsOf(measureOf(metric), metric.of ?? '');
}

/** Most series of a metric. */
export function limitOf({ limit = usualLimit }: Pick<MetricDocument, 'limit'>): number {
  return limit;
}

/** How long it is kept by the hour, in milliseconds. */
export function metricKeep({ keep }: Pick<MetricDocument, 'keep'>): number {
  return (keep === undefined ? undefined : parseDuration(keep)) ?? usualKeep;
}

/** What is shown of a metric where nothing came. */
export function emptyOf({ empty = 'none' }: Pick<MetricDocument, 'empty'>): EmptyValue {
  return empty;
}
