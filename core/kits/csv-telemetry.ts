import { fitsType } from '../templates/guess-type.ts';
import { entryOf, type StarterKit } from './kit.ts';

function isMeasurement(line: string): boolean {
  const values = line.split(',');
  return (
    values.length >= 3 &&
    values.some((value) => fitsType(value.trim(), 'iso')) &&
    values.some((value) => fitsType(value.trim(), 'number'))
  );
}

/** Measurements as comma-separated values. */
export const csvTelemetry: StarterKit = {
  id: 'csv-telemetry',
  title: 'CSV telemetry',
  help: 'Cuts comma-separated measurements into a sensor, a time and numbers, and drops the line. Name the columns as your sensors send them.',
  fits: isMeasurement,
  pipeline: (source) => ({
    ...entryOf('csv-telemetry', source),
    title: `Measurements of ${source}`,
    steps: [
      { 'parse-csv': { from: 'body', columns: ['sensor', 'at:iso', 'value:number'] } },
      { 'set-time': { from: 'at' }, when: 'has at' },
      { 'drop-body': {} },
    ],
    tests: [
      {
        name: 'a measurement',
        input: 'tide-2,2026-01-15T11:59:02Z,1.72',
        expect: { sensor: 'tide-2', value: 1.72, body: '', time: '2026-01-15T11:59:02.000Z' },
      },
    ],
  }),
};
