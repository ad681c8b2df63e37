import { countFigure } from './figures.ts';
import type { Measure } from './measure.ts';

/** How many events came. */
export const count: Measure = {
  name: 'count',
  points: 'count',
  title: 'count',
  help: 'How many events came.',
  field: 'none',
  aggregates: () => [{ function: 'count' }],
  figures: [countFigure],
  additive: true,
  exposed: 'counter',
};
