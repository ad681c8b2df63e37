import { meanFigure, sumOf } from './figures.ts';
import type { Measure } from './measure.ts';

/** The numbers of a field added up. */
export const sum: Measure = {
  name: 'sum',
  points: 'sum',
  title: 'sum',
  help: 'The numbers of a field added up; their mean can be read too.',
  field: 'number',
  aggregates: (field) => [
    { function: 'sum', field },
    { function: 'count', field },
  ],
  figures: [
    { name: 'sum', of: (states, place) => sumOf(states, 0, place) },
    meanFigure(0, 1),
    { name: 'count', of: (states, place) => sumOf(states, 1, place) },
  ],
  additive: true,
  exposed: 'counter',
};
