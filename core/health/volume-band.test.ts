import { describe, expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { type SentBytes, usualBand, volumeDrift } from './volume-band.ts';

/** A Wednesday. */
const now = Date.UTC(2026, 10, 25, 10, 30);

/** Two weeks by the hour: some bytes at each hour of weekdays, a tenth of it at weekends. */
function past(bytesAt: (start: number) => number): readonly SentBytes[] {
  return Array.from({ length: 14 * 24 }, (_, i) => {
    const start = Math.floor(now / hour) * hour - (i + 1) * hour;
    const weekday = new Date(start).getUTCDay();
    return { start, bytes: bytesAt(start) * (weekday === 0 || weekday === 6 ? 0.1 : 1) };
  });
}

function lastHours(bytesAt: (back: number) => number): readonly SentBytes[] {
  return Array.from({ length: 180 }, (_, i) => ({ start: now - (i + 1) * minute, bytes: bytesAt(i + 1) }));
}

describe('the usual band', () => {
  test('is of the same hour of days of the same kind', () => {
    const hours = past((start) => (new Date(start).getUTCHours() === 10 ? 1e6 : 5e6));
    expect(usualBand(hours, now)).toEqual({ low: 500_000, middle: 1_000_000, high: 2_000_000, days: 'weekdays' });
    expect(usualBand(hours, now - hour)).toMatchObject({ low: 2_500_000, high: 10_000_000 });
    expect(usualBand(hours, Date.UTC(2026, 10, 28, 10))).toMatchObject({
      low: 50_000,
      high: 200_000,
      days: 'weekends',
    });
  });

  test('is wider where days differ more, and one odd day does not move it', () => {
    let days = 0;
    const uneven = past(() => 1e6 * (1 + (days++ % 3)));
    expect(usualBand(uneven, now)?.high).toBeGreaterThan(4e6);
    const odd = past((start) => (start > now - 2 * day && start < now - day ? 100e6 : 1e6));
    expect(usualBand(odd, now)).toMatchObject({ low: 500_000, high: 2_000_000 });
  });

  test('is unknown while fewer than four days are known', () => {
    const hours = past(() => 1e6);
    expect(usualBand(hours.slice(0, 3 * 24), now)).toBeUndefined();
    expect(usualBand(hours.slice(0, 4 * 24), now)?.days).toBe('days');
  });
});

describe('a volume that moved', () => {
  const hours = past(() => 6e6);

  test('is reported with the minute in which it began', () => {
    const drift = volumeDrift(
      hours,
      lastHours((back) => (back <= 70 ? 400_000 : 100_000)),
      now,
    );
    expect(drift).toMatchObject({ kind: 'volume-moved', subject: 'above' });
    expect(drift?.text).toBe('24 MB came in an hour; 3 MB to 12 MB are usual at this hour of weekdays');
    expect(Math.abs((drift?.since ?? 0) - (now - 70 * minute))).toBeLessThanOrEqual(4 * minute);
    expect(
      volumeDrift(
        hours,
        lastHours((back) => (back <= 90 ? 10_000 : 100_000)),
        now,
      )?.subject,
    ).toBe('below');
  });

  test.each<[string, readonly SentBytes[], (back: number) => number]>([
    ['is usual', hours, () => 100_000],
    ['stopped: that is silence', hours, (back) => (back <= 60 ? 0 : 100_000)],
    ['is small in any case', past(() => 1_000), () => 200],
    ['is not known for long enough', hours.slice(0, 24), () => 400_000],
  ])('is not reported where it %s', (_, known, bytesAt) => {
    expect(volumeDrift(known, lastHours(bytesAt), now)).toBeUndefined();
  });
});
