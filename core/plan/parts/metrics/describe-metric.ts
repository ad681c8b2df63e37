import { measures } from '../../../metrics/measures/index.ts';
import type { MetricDocument } from './metrics-shape.ts';

/** What a metric keeps, in a few words: `distribution of took`. */
export function describeMeasure({ measure, of }: Pick<MetricDocument, 'measure' | 'of'>): string {
  const title = measures.get(measure)?.title ?? measure;
  return of === undefined ? title : `${title} of ${of}`;
}

/** The keys of a metric in a few words: `status, top 20 of path`. */
export function describeKeys({ by = [] }: Pick<MetricDocument, 'by'>): string {
  if (by.length === 0) return 'nothing';
  return by
    .map(({ field, top, table, column }) => {
      if (top !== undefined) return `top ${top} of ${field}`;
      return table === undefined ? field : `${column ?? ''} of ${field} in ${table}`;
    })
    .join(', ');
}
