import Link from 'next/link';
import { metricOfSummary } from '#core/plan/parts/metrics/metric-of-summary.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';
import { newMetricLink } from '../../metrics/new-metric-link.ts';

/** Leads to a metric that goes on with what a summary tells, for when the lines are gone. */
export function KeepAsMetric({ summary, condition }: { readonly summary: string; readonly condition: string }) {
  const parsed = parseSummary(summary);
  const start = parsed.ok ? metricOfSummary(parsed.summary, condition) : undefined;
  if (!start) return null;
  return (
    <Link href={newMetricLink(start)} className="shrink-0 py-1 font-semibold text-mark hover:underline">
      Create metric
    </Link>
  );
}
