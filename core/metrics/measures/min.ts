import { edgeOf } from './figures.ts';
import type { Measure } from './measure.ts';

/** The least number of a field. */
export const min: Measure = {
  name: 'min',
  points: 'min',
  title: 'least',
  help: 'The least number of a field.',
  field: 'number',
  aggregates: (field) => [{ function: 'min', field }],
  figures: [{ name: 'min', of: (states, place) => edgeOf(states, 0, place) }],
  additive: false,
  exposed: 'gauge',
};
