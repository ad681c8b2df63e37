import { expect, test } from 'vitest';
import { forecastMonths, weekday } from '../testing/forecast-months.ts';
import { fewestDays, forecastDays } from './forecast.ts';

test('over months with rhythm, growth, a step, an outage and an incident the end is within the band on each day', () => {
  const { within, months, errorOnDay5 } = forecastMonths();
  expect(months).toBe(20);
  expect(Math.min(...within)).toBeGreaterThanOrEqual(18);
  expect(errorOnDay5).toBeLessThan(0.06);
});

test('of too few days nothing is said, of days that cost nothing that they will not', () => {
  expect(forecastDays([1, 2, 3], weekday, 10)).toBeUndefined();
  const nothing = forecastDays(
    Array.from({ length: 20 }, () => 0),
    weekday,
    10,
  );
  expect(nothing?.high).toBeLessThan(1e-6);
  const few = forecastDays(
    Array.from({ length: fewestDays }, () => 5),
    weekday,
    10,
  );
  expect(few?.middle).toBeCloseTo(50);
  expect(few?.high).toBeGreaterThan(54);
  expect(
    forecastDays(
      Array.from({ length: 400 }, () => 5),
      weekday,
      3,
    )?.byDay,
  ).toHaveLength(3);
});

test('a trend of some weeks is damped over the month to come', () => {
  const growing = Array.from({ length: 21 }, (_, i) => 1.03 ** i);
  const days = forecastDays(growing, weekday, 31)?.byDay ?? [];
  const last = growing.at(-1) ?? 0;
  expect(days[6] ?? 0).toBeGreaterThan(last * 1.12);
  expect(days[30] ?? 0).toBeGreaterThan(days[29] ?? 0);
  expect(days[30] ?? 0).toBeLessThan(last * 1.8);
});
