import { count } from './count.ts';
import { distinct } from './distinct.ts';
import { distribution } from './distribution.ts';
import { last } from './last.ts';
import { max } from './max.ts';
import type { Measure } from './measure.ts';
import { min } from './min.ts';
import { rate } from './rate.ts';
import { sum } from './sum.ts';

const all = [count, rate, sum, distribution, distinct, min, max, last] as const;

/** All that a metric can keep of events, by name, in the order in which people are offered them. */
export const measures: ReadonlyMap<string, Measure> = new Map(all.map((measure) => [measure.name, measure]));
