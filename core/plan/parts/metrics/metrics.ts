import type { PlanDocument } from '../../document.ts';
import { type FieldUse, readByCondition, usesOf } from '../../field-use.ts';
import { itemAt, nameOf, numberAt } from '../named-item.ts';
import type { PathInPart, PlanPart, PlanPlace } from '../part.ts';
import { checkMetrics } from './check-metrics.ts';
import { diffMetrics } from './diff-metrics.ts';
import type { MetricDocument } from './metrics-shape.ts';

/** Metrics that are kept of events as they arrive. */
export const metrics: PlanPart = {
  key: 'metrics',
  noun: 'metric',
  items: ({ metrics: all = [] }) => all.map(({ id, name }) => ({ id, title: name })),
  check: checkMetrics,
  diff: (before, after) => diffMetrics(before.metrics, after.metrics),
  place: placeInMetric,
  fieldUses: (plan) => ({ makers: [], readers: (plan.metrics ?? []).flatMap(readByMetric) }),
  readers: (plan) => (plan.metrics ?? []).map(({ name, when }) => ({ kind: 'metric', name, condition: when })),
};

function placeInMetric(plan: PlanDocument, path: PathInPart): PlanPlace {
  const metric = itemAt(plan.metrics ?? [], path);
  const [field, which, ...inside] = path.rest;
  const isKey = field === 'by' && which !== undefined;
  const place = isKey ? [`key ${numberAt(which, path.isCounted)}`, ...inside] : path.rest;
  return {
    words: [`Metric “${nameOf(metric && { ...metric, title: metric.name }, path.item)}”`, ...place].join(', '),
    ...(metric && { item: { part: 'metrics', id: metric.id, ...(field !== undefined && { field }) } }),
  };
}

function readByMetric({ id, name, when, of, by = [] }: MetricDocument): readonly FieldUse[] {
  const place = { at: id, title: `metric “${name}”` };
  const fields = [...(of ? [of] : []), ...by.map(({ field }) => field)];
  return [...readByCondition(when, place), ...usesOf(fields, place)];
}
