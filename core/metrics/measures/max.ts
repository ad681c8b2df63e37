import { edgeOf } from './figures.ts';
import type { Measure } from './measure.ts';

/** The greatest number of a field. */
export const max: Measure = {
  name: 'max',
  points: 'max',
  title: 'greatest',
  help: 'The greatest number of a field.',
  field: 'number',
  aggregates: (field) => [{ function: 'max', field }],
  figures: [{ name: 'max', of: (states, place) => edgeOf(states, 0, place) }],
  additive: false,
  exposed: 'gauge',
};
