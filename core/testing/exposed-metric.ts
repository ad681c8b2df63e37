import type { ExposedMetric } from '../metrics/exposition.ts';
import type { SeriesLabels } from '../metrics/labels.ts';
import { measures } from '../metrics/measures/index.ts';
import type { Measure } from '../metrics/measures/measure.ts';
import { newPoints, type Points } from '../metrics/points.ts';

/** A metric of some series as others get it. */
export function exposedMetric(
  measure: string,
  series: readonly (readonly [SeriesLabels, Points])[],
  more: Partial<ExposedMetric> = {},
): ExposedMetric {
  const of = measures.get(measure) as Measure;
  const list = series.map(([labels, points]) => ({ labels, points }));
  return { name: 'booking.requests', help: '', unit: '', measure: of, series: list, ...more };
}

/** One place of a measure whose first aggregates have some values. */
export function onePoint(measure: string, ...values: readonly number[]): Points {
  const made = newPoints((measures.get(measure) as Measure).aggregates('took'), 1);
  for (const [i, value] of values.entries()) {
    const state = made.states[i];
    if (state && 'values' in state) state.values[0] = value;
  }
  made.filled[0] = 1;
  return made;
}
