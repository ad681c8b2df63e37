import type { Aggregate } from '../summaries/summary.ts';
import { measures } from './measures/index.ts';
import type { Measure } from './measures/measure.ts';

/**
 * The name under which points of a measure are stored: `count`, or `sum bytes`. A metric that comes to measure something
 * else has other points from then on, and finds the old ones again when it goes back.
 */
export function pointsOf({ points }: Measure, field: string): string {
  return field === '' ? points : `${points} ${field}`;
}

/** What points hold, by the name under which they are stored; throws where it is none. */
export function aggregatesOf(name: string): readonly Aggregate[] {
  const [points = '', ...field] = name.split(' ');
  const measure = measures.get(points);
  if (!measure) throw new Error(`${name} says nothing that points may hold.`);
  return measure.aggregates(field.join(' '));
}
