import { distinctCount } from '../../sketches/distinct.ts';
import type { Measure } from './measure.ts';

/** How many different values a field had: exact up to 512, then by HyperLogLog with a standard error of 1.6 %. */
export const distinct: Measure = {
  name: 'distinct',
  points: 'distinct',
  title: 'distinct',
  help: 'How many different values a field had: exact up to 512, then to about 1.6 %.',
  field: 'value',
  aggregates: (field) => [{ function: 'distinct', field }],
  figures: [
    {
      name: 'distinct',
      of: ([state], place) => {
        const sketch = state?.kind === 'distinct' ? state.sketches[place] : undefined;
        return sketch ? distinctCount(sketch) : null;
      },
    },
  ],
  additive: false,
  exposed: 'gauge',
};
