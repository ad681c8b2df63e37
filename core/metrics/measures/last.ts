import type { Measure } from './measure.ts';

/** The last number of a field, by the time of its event. */
export const last: Measure = {
  name: 'last',
  points: 'last',
  title: 'last value',
  help: 'The last number of a field, by the time of its event.',
  field: 'number',
  aggregates: (field) => [{ function: 'last', field }],
  figures: [
    {
      name: 'last',
      of: ([state], place) => {
        const value = state?.kind === 'last' ? state.values[place] : undefined;
        return typeof value === 'number' ? value : null;
      },
    },
  ],
  additive: false,
  exposed: 'gauge',
};
