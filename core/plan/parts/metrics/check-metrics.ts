import { day } from '../../../events/time-units.ts';
import { measures } from '../../../metrics/measures/index.ts';
import type { PlanDocument } from '../../document.ts';
import { checkCondition, checkIds, type PlanProblem, problemIf } from '../../plan-problem.ts';
import { isRetention } from '../retention-bounds.ts';
import { checkKeyField } from './check-key-field.ts';
import { keyName } from './metric.ts';
import type { MetricDocument, MetricKey } from './metrics-shape.ts';

/** The shortest time that a metric is kept, in milliseconds. */
const shortestKeep = day;

/** What is wrong with metrics. No two have one name (by OpenTelemetry's rules, in any case). */
export function checkMetrics({ metrics = [] }: PlanDocument): readonly PlanProblem[] {
  const names = metrics.map(({ name }) => ({ id: name.toLowerCase() }));
  return [
    ...checkIds(metrics, 'metrics'),
    ...checkIds(names, 'metrics').map(({ path, message }) => ({ path: path.replace(/\.id$/, '.name'), message })),
    ...metrics.flatMap((metric, i) => checkMetric(metric, `metrics[${i}]`)),
  ];
}

function checkMetric({ when, measure: name, of, by = [], keep }: MetricDocument, path: string): readonly PlanProblem[] {
  const measure = measures.get(name);
  const needsField = measure !== undefined && measure.field !== 'none';
  const keys = by.map((key) => ({ id: keyName(key).toLowerCase() }));
  return [
    ...checkCondition(when, `${path}.when`),
    ...problemIf(needsField && !of, `${path}.of`, `say of which field: a ${measure?.title} is of one`),
    ...problemIf(!needsField && of !== undefined, `${path}.of`, `a ${name} is of the events, not of a field`),
    ...by.flatMap((key, k) => checkKey(key, `${path}.by[${k}]`)),
    ...checkIds(keys, `${path}.by`).map(({ path: at, message }) => ({ path: at.replace(/\.id$/, '.field'), message })),
    ...problemIf(
      keep !== undefined && !isRetention(keep, shortestKeep),
      `${path}.keep`,
      `${keep} is no duration of a day or more, such as 456d, up to 100 years`,
    ),
  ];
}

function checkKey({ field, top, table, column }: MetricKey, path: string): readonly PlanProblem[] {
  return [
    ...checkKeyField(field, `${path}.field`),
    ...problemIf(
      top !== undefined && table !== undefined,
      path,
      'a key is cut to its top or goes through a table, not both',
    ),
    ...problemIf(
      (table === undefined) !== (column === undefined),
      path,
      'a key that goes through a table names the table and its column',
    ),
  ];
}
