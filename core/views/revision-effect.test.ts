import { expect, test } from 'vitest';
import { freshEffect, measuredEffect, wholeMinutes } from './revision-effect.ts';

const minute = 60_000;
const sum = (outcome: string, parsed: boolean, events: number) => ({
  start: 0,
  outcome,
  parsed,
  events,
  bytes: events * 10,
  stored: 0,
});

test('what was measured over whole minutes is told as a day', () => {
  expect(wholeMinutes(30_000, 3.5 * minute)).toEqual({ from: minute, to: 3 * minute });
  expect(wholeMinutes(30_000, 90_000)).toBeUndefined();
  const stretch = { from: 0, to: 10 * minute };
  const sums = [sum('kept', true, 60), sum('kept', false, 20), sum('excluded', true, 20)];
  expect(measuredEffect(sums, stretch)).toEqual({
    minutes: 10,
    arrived: { events: 14_400, bytes: 144_000 },
    kept: { events: 11_520, bytes: 115_200 },
    parsedShare: 0.8,
  });
  expect(measuredEffect([], stretch)).toBeNull();
});

test('what was counted a moment ago is told as if it had been five seconds', () => {
  const counted = { since: 1_000, arrived: { events: 5, bytes: 50 }, kept: { events: 5, bytes: 50 } };
  const effect = freshEffect({ ...counted, parsed: { events: 0, bytes: 0 } }, 1_200);
  expect(effect).toMatchObject({ arrived: { events: 86_400 }, parsedShare: 0 });
});
