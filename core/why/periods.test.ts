import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { chosenPeriods, comparedPeriods } from './periods.ts';

/** A Thursday. */
const began = Date.UTC(2026, 10, 26, 9, 40);

test('the same hours of the days of the same kind before are compared', () => {
  const found = comparedPeriods(began, began + 8 * hour, began - 14 * day);
  expect(found?.since).toEqual({ from: began, to: began + 8 * hour });
  expect(found?.before.map(({ from }) => (began - from) / day)).toEqual([1, 2, 3, 6, 7, 8, 9]);
  expect(found?.before.every(({ from, to }) => to - from === 8 * hour)).toBe(true);
});

test('of a change that went on for days whole days are compared, each day before once', () => {
  const found = comparedPeriods(began, began + 2.5 * day, began - 7 * day);
  expect(found?.before.map(({ from }) => (began - from) / day)).toEqual([3, 6]);
});

test('no time before is beyond what is known', () => {
  const found = comparedPeriods(began, began + 5 * day, began - 2.5 * day);
  expect(found?.since).toEqual({ from: began, to: began + 2 * day });
  expect(found?.before).toEqual([{ from: began - 2 * day, to: began }]);
});

test('where less than a day is known as much right before is compared; where there is nothing, nothing', () => {
  expect(comparedPeriods(began, began + 8 * hour, began - hour)).toEqual({
    since: { from: began, to: began + hour },
    before: [{ from: began - hour, to: began }],
  });
  expect(comparedPeriods(began, began + 8 * hour, began - minute)).toBeUndefined();
  expect(comparedPeriods(began, began + minute, began - day)).toBeUndefined();
});

test('a chosen time is taken as several where it is longer', () => {
  const since = { from: began, to: began + hour };
  const found = chosenPeriods(since, { from: began - 3.5 * hour, to: began });
  expect(found.before.map(({ from, to }) => [(began - from) / hour, (began - to) / hour])).toEqual([
    [1, 0],
    [2, 1],
    [3, 2],
  ]);
  expect(chosenPeriods(since, { from: began - minute, to: began }).before).toEqual([
    { from: began - minute, to: began },
  ]);
});
