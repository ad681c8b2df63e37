import { count } from './count.ts';
import { sumOf } from './figures.ts';
import type { Measure } from './measure.ts';

/** How many events came a second. */
export const rate: Measure = {
  ...count,
  name: 'rate',
  title: 'rate',
  help: 'How many events came, per second.',
  figures: [{ name: 'rate', of: (states, place, seconds) => sumOf(states, 0, place) / seconds }],
};
