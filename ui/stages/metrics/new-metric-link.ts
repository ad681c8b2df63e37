import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';

/** Where a metric is made that begins with what is known of it. */
export function newMetricLink({ when = '', measure = 'count', of = '', by = [] }: Partial<MetricDocument>): string {
  const keys = by.map(({ field }) => field).join(',');
  const top = by.find((key) => key.top !== undefined)?.top;
  const given = { ...(of && { of }), ...(keys && { keys }), ...(top !== undefined && { top: String(top) }) };
  return `/metrics?${new URLSearchParams({ edit: 'new', when, measure, ...given })}`;
}
