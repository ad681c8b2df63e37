import { describe, expect, test } from 'vitest';
import { day, hour } from '../events/time-units.ts';
import { forecastCap, type HourSum, suggestCap } from './cap-forecast.ts';
import { daysOf } from './day-of-zone.ts';

const dayOf = daysOf('UTC');
/** A Friday, half past nine. */
const now = Date.UTC(2026, 10, 27, 9, 30);
const today = dayOf(now);

/** Hours of some days before and of today so far, each as `of` says. */
function hours(days: number, of: (time: number) => number): readonly HourSum[] {
  const sums: HourSum[] = [];
  for (let start = today.start - days * day; start < now; start += hour)
    sums.push({ start, amount: of(start) * Math.min(1, (now - start) / hour) });
  return sums;
}

const isDaytime = (time: number): boolean => new Date(time).getUTCHours() >= 8;

describe('a forecast', () => {
  test('follows the hours of the days before: so much by the end, and met in that hour', () => {
    const forecast = forecastCap(
      hours(14, (time) => (isDaytime(time) ? 100 : 10)),
      today,
      now,
      1_000,
    );
    // 8 hours of 10, one and a half of 100 until now, and 14.5 to come.
    expect(forecast?.byEnd.middle).toBeCloseTo(80 + 1_600, 6);
    const meets = today.start + 8 * hour + ((1_000 - 80) / 100) * hour;
    expect(forecast?.meets?.middle).toBeCloseTo(meets, -2);
    expect(forecast?.meets?.earliest).toBe(forecast?.meets?.middle);
  });

  test('goes by today’s pace', () => {
    const busy = hours(14, (time) => (time >= today.start ? 200 : 100));
    expect(forecastCap(busy, today, now, 1e9)?.byEnd.middle).toBeCloseTo(200 * 24, 6);
    expect(forecastCap(busy, today, now, 1e9)?.meets).toBeNull();
  });

  test('has a band as wide as days differ; the latest may be not at all', () => {
    const uneven = hours(13, (time) => (time >= today.start ? 100 : 50 + 10 * (Math.floor(time / day) % 11)));
    const forecast = forecastCap(uneven, today, now, 2_400);
    expect(forecast?.byEnd.low).toBeLessThan(forecast?.byEnd.middle ?? 0);
    expect(forecast?.byEnd.high).toBeGreaterThan(forecast?.byEnd.middle ?? 0);
    expect(forecast?.meets?.earliest).toBeLessThan(today.end);
    expect(forecast?.meets?.latest).toBeNull();
  });

  test('takes weekends for themselves', () => {
    const saturday = now + day;
    const sums = hours(20, (time) => ([0, 6].includes(new Date(time).getUTCDay()) ? 7 : 100));
    expect(forecastCap(sums, dayOf(saturday), saturday, 1e9)?.byEnd.middle).toBeLessThan(200);
  });

  test('is none where nothing is known, and met at once where nothing is left', () => {
    expect(forecastCap([], today, now, 100)).toBeUndefined();
    expect(
      forecastCap(
        hours(14, () => 100),
        today,
        now,
        900,
      )?.meets?.middle,
    ).toBe(now);
  });
});

describe('a suggestion', () => {
  const days = Array.from({ length: 13 }, (_, i) => dayOf(today.start - (i + 1) * day + 1));

  test('is three times the mean of full days', () => {
    expect(
      suggestCap(
        hours(14, () => 1_000),
        days,
        undefined,
        'events',
      ),
    ).toEqual({
      amount: 72_000,
      reason: 'three times the mean of 13 full days (24,000 events); the busiest had 24,000 events',
    });
  });

  test('or the busiest of them, or what today is heading for', () => {
    const once = hours(14, (time) => (time === today.start - 3 * day ? 1e6 : 1));
    expect(suggestCap(once, days, undefined, 'bytes')?.reason).toMatch(/^as much as the busiest of 13 full days/);
    const sums = hours(14, () => 10);
    const heading = { byEnd: { low: 0, middle: 5_000, high: 0 }, meets: null };
    expect(suggestCap(sums, days, heading, 'bytes')).toMatchObject({ amount: 5_000 });
    expect(suggestCap(sums, days, heading, 'bytes')?.reason).toContain('today is heading for 5 kB');
  });

  test('is none before a full day is known', () => {
    expect(
      suggestCap(
        hours(0, () => 10),
        days,
        undefined,
        'bytes',
      ),
    ).toBeUndefined();
  });
});
