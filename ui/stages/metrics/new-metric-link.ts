import type { MetricDocument } from '#core/plan/document.ts';

/** Where a metric is made that begins with what is known of it. */
export function newMetricLink({ when = '', measure = 'count', of = '', by = [] }: Partial<MetricDocument>): string {
  const keys = by.map(({ field }) => field).join(',');
  return `/metrics?${new URLSearchParams({ edit: 'new', when, measure, ...(of && { of }), ...(keys && { keys }) })}`;
}
