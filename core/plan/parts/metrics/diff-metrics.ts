import { formatDuration } from '../../../events/units.ts';
import { changed, diffList, type PlanChange } from '../../plan-change.ts';
import { describeKeys, describeMeasure } from './describe-metric.ts';
import { emptyOf, limitOf, metricKeep } from './metric.ts';
import type { MetricDocument } from './metrics-shape.ts';

type TitledMetric = MetricDocument & { readonly title: string };

/** What changed between two lists of metrics. */
export function diffMetrics(
  before: readonly MetricDocument[] = [],
  after: readonly MetricDocument[] = [],
): readonly PlanChange[] {
  return diffList(before.map(titled), after.map(titled), { path: 'metrics', noun: 'metric' }, diffMetric);
}

function titled(metric: MetricDocument): TitledMetric {
  return { ...metric, title: metric.name };
}

function diffMetric(before: TitledMetric, after: TitledMetric, path: string): readonly PlanChange[] {
  const name = `metric “${after.name}”`;
  /** A change of something that is described in words. */
  const changedWords = (text: (of: string) => string, of: (metric: MetricDocument) => string): readonly PlanChange[] =>
    changed(path, text(of(after)), of(before), of(after));
  return [
    ...changed(path, `metric “${before.name}” has another name`, before.name, after.name),
    ...changed(path, `${name} is of other events`, before.when, after.when),
    ...changedWords((measure) => `${name} keeps the ${measure}`, describeMeasure),
    ...changedWords((keys) => `${name} is kept by ${keys}`, describeKeys),
    ...changed(path, `${name} has another unit`, before.unit, after.unit),
    ...changedWords(
      (limit) => `${name} has at most ${limit} series`,
      (metric) => `${limitOf(metric)}`,
    ),
    ...changedWords(
      (keep) => `${name} is kept for ${keep}`,
      (metric) => formatDuration(metricKeep(metric) / 1_000),
    ),
    ...changedWords((empty) => `${name} shows ${empty} where nothing came`, emptyOf),
    ...changed(path, `${name} has another description`, before.help, after.help),
  ];
}
