import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { chosenPeriods, comparedPeriods } from './periods.ts';

/** A Thursday. */
const began = Date.UTC(2026, 10, 26, 9, 40);

test('compares the same hours on earlier days of the same kind', () => {
  const found = comparedPeriods(began, began + 8 * hour, began - 14 * day);
  expect(found?.since).toEqual({ from: began, to: began + 8 * hour });
  expect(found?.before.map(({ from }) => (began - from) / day)).toEqual([1, 2, 3, 6, 7, 8, 9]);
  expect(found?.before.every(({ from, to }) => to - from === 8 * hour)).toBe(true);
});

test('compares a change of several days with whole days, each once', () => {
  const found = comparedPeriods(began, began + 2.5 * day, began - 7 * day);
  expect(found?.before.map(({ from }) => (began - from) / day)).toEqual([3, 6]);
});

test('no period reaches back before the known time', () => {
  const found = comparedPeriods(began, began + 5 * day, began - 2.5 * day);
  expect(found?.since).toEqual({ from: began, to: began + 2 * day });
  expect(found?.before).toEqual([{ from: began - 2 * day, to: began }]);
});

test('with less than a day of history, compares with the time directly before', () => {
  expect(comparedPeriods(began, began + 8 * hour, began - hour)).toEqual({
    since: { from: began, to: began + hour },
    before: [{ from: began - hour, to: began }],
  });
  expect(comparedPeriods(began, began + 8 * hour, began - minute)).toBeUndefined();
  expect(comparedPeriods(began, began + minute, began - day)).toBeUndefined();
});

test('splits a longer baseline into several periods', () => {
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
