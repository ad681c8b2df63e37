import type { MetricDocument } from '../metrics/metrics-shape.ts';
import type { RankingDocument } from './rankings-shape.ts';

/** The beginning of a metric of the same events, by the same keys and amounts, as a ranking. */
export function metricOfRanking({
  when,
  by,
  measure,
  of = '',
}: Pick<RankingDocument, 'when' | 'by' | 'measure' | 'of'>): Pick<MetricDocument, 'when' | 'measure' | 'of' | 'by'> {
  const metric = { when, by: by.map((field) => ({ field })) };
  if (measure === 'events') return { ...metric, measure: 'count' };
  return { ...metric, measure: 'sum', of: measure === 'bytes' ? 'raw_bytes' : of };
}
