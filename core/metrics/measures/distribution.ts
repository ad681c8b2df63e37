import { edgeOf, meanOf, quantileFigure, sumOf, totalOf } from './figures.ts';
import type { Measure } from './measure.ts';

/**
 * How the numbers of a field are spread: an exponential histogram of base 2 (OpenTelemetry metrics data model), from which
 * any percentile is read to about 1.1 %, with their sum, the least and the greatest.
 */
export const distribution: Measure = {
  name: 'distribution',
  points: 'distribution',
  title: 'distribution',
  help: 'How the numbers of a field are spread: any percentile to about 1.1 %, mean, least and greatest.',
  field: 'number',
  aggregates: (field) => [
    { function: 'p50', field },
    { function: 'sum', field },
    { function: 'min', field },
    { function: 'max', field },
  ],
  figures: [
    quantileFigure('p95', 0.95),
    quantileFigure('p50', 0.5),
    quantileFigure('p90', 0.9),
    quantileFigure('p99', 0.99),
    {
      name: 'mean',
      of: (states, place) => meanOf(sumOf(states, 1, place), totalOf(states, place)),
    },
    { name: 'min', of: (states, place) => edgeOf(states, 2, place) },
    { name: 'max', of: (states, place) => edgeOf(states, 3, place) },
    { name: 'count', of: (states, place) => totalOf(states, place) },
    { name: 'sum', of: (states, place) => sumOf(states, 1, place) },
  ],
  additive: false,
  exposed: 'histogram',
};
