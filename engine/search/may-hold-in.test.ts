import { expect, test } from 'vitest';
import { conditionOf } from '#core/conditions/condition.ts';
import { mayHoldIn } from './may-hold-in.ts';

const fleets = new Map([['gates', ['piers', 'harbour']]]);
const segments = [
  { source: 'gates', tier: 'rest' },
  { source: 'gates', tier: 'incidents' },
  { source: 'tides', tier: 'rest' },
];

test.each([
  ['', [true, true, true]],
  ['source = GATES', [true, true, false]],
  ['source = g*', [true, true, false]],
  ['source in (tides, weather)', [false, false, true]],
  ['source != gates', [false, false, true]],
  ['not source = gates', [false, false, true]],
  ['tier = incidents', [false, true, false]],
  ['fleet = piers', [true, true, false]],
  ['not has fleet', [false, false, true]],
  ['source = gates and status >= 500', [true, true, false]],
  ['source = tides or status >= 500', [true, true, true]],
  ['not (source = gates and status >= 500)', [true, true, true]],
  ['not (source = gates or status >= 500)', [false, false, true]],
  ['source = gates lane = 4 or tier = rest timeout', [true, true, true]],
  ['emitter = gate-1', [true, true, true]],
  ['time > now-1h', [true, true, true]],
])('%s', (condition, expected) => {
  expect(segments.map(mayHoldIn(conditionOf(condition), { now: 0, fleets }))).toEqual(expected);
});
