import { describe, expect, test } from 'vitest';
import { day, hour, minute, second } from '../events/time-units.ts';
import { seededRandom } from '../routing/route.ts';
import { isHabit, isUnheardOf, type Surge, surgeAt, usualRate } from './surge.ts';
import type { SentBytes } from './volume-band.ts';

/** A Wednesday. */
const start = Date.UTC(2026, 10, 25);
const usual = { bytes: 10_000, when: 'at this hour of weekdays' };

/** Sums by the minute of a source that sends at `rate` (bytes a minute), and from `jump` on at `after`, up to `now`. */
function sent(rate: number, jump: number, after: number, now: number): readonly SentBytes[] {
  const sums: SentBytes[] = [];
  for (let at = Math.floor((now - hour) / minute) * minute; at < now; at += minute) {
    const end = Math.min(now, at + minute);
    const jumped = Math.max(0, end - Math.max(at, jump));
    sums.push({ start: at, bytes: (rate * (end - at - jumped) + after * jumped) / minute });
  }
  return sums;
}

describe('a surge', () => {
  test.each([0, 10, 25, 31, 45, 59])('of five times that begins at second %i is seen within three minutes', (at) => {
    const jump = start + 10 * hour + at * second;
    // It is looked every half minute, at any of them.
    for (let offset = 0; offset < 30; offset += 7) {
      let seen: Surge | undefined;
      for (let now = jump - minute + offset * second; now <= jump + 3 * minute && !seen; now += 30 * second)
        seen = surgeAt(usual, sent(10_000, jump, 50_000, now), now);
      expect(seen?.rate).toBeGreaterThan(40_000);
      expect(Math.abs((seen?.since ?? 0) - jump)).toBeLessThanOrEqual(minute);
    }
  });

  test('keeps its first minute as long as it lasts', () => {
    const jump = start + 10 * hour;
    const now = jump + 40 * minute;
    expect(surgeAt(usual, sent(10_000, jump, 200_000, now), now)).toEqual({ since: jump, rate: 200_000, usual });
  });

  test.each([
    ['three times', 30_000, usual],
    ['little in any case', 15_000, { ...usual, bytes: 100 }],
  ])('is none where it is %s', (_, after, of) => {
    const jump = start + 10 * hour;
    expect(surgeAt(of, sent(of.bytes, jump, after, jump + 20 * minute), jump + 20 * minute)).toBeUndefined();
  });

  test('is what is beyond the minutes of the day before, and no habit', () => {
    const surge = { since: start + day, rate: 100_000, usual };
    const dayBefore = (bytes: number) => [{ start: start + 2 * hour, bytes }];
    expect([isUnheardOf(surge, dayBefore(60_000)), isUnheardOf(surge, dayBefore(70_000))]).toEqual([true, false]);
    expect(isHabit(surge.since, [surge.since - 7 * day + 20 * minute])).toBe(true);
    expect(isHabit(surge.since, [surge.since - 5 * minute, surge.since - 3 * day - 4 * hour])).toBe(false);
  });
});

describe('what is usual in a minute', () => {
  const hourly = (hours: number, bytes: (at: number) => number): readonly SentBytes[] =>
    Array.from({ length: hours }, (_, i) => ({ start: start - (i + 1) * hour, bytes: bytes(start - (i + 1) * hour) }));

  test('is that of the hour of the day; of a young source that of its largest hour', () => {
    const byDay = hourly(14 * 24, (at) => (new Date(at).getUTCHours() === 10 ? 6e6 : 6e5));
    expect(usualRate(byDay, start + 10.5 * hour)).toEqual({ bytes: 100_000, when: 'at this hour of weekdays' });
    expect(usualRate(byDay, start + 11.5 * hour)?.bytes).toBe(10_000);
    const young = hourly(5, (at) => (at === start - 2 * hour ? 6e5 : 6e4));
    expect(usualRate(young, start)).toEqual({ bytes: 10_000, when: 'in its largest hour so far' });
    expect(
      usualRate(
        hourly(2, () => 6e5),
        start,
      ),
    ).toBeUndefined();
  });
});

/** Sources of many habits: bytes in a minute that begins at a time. */
function habits(random: () => number): Readonly<Record<string, (at: number) => number>> {
  const byDay = (at: number): number => 1 + Math.sin(((at % day) / day - 0.25) * 2 * Math.PI);
  const scatter = (): number => 0.6 + 0.8 * random();
  const weekend = (at: number): number => ([0, 6].includes(new Date(at).getUTCDay()) ? 0.3 : 1);
  let burst = 0;
  return {
    steady: () => 60_000 * scatter(),
    'by day, weekdays more': (at) => 80_000 * byDay(at) * weekend(at) * scatter(),
    'hourly batch': (at) => (at % hour < 4 * minute ? 900_000 * scatter() : 500),
    'nightly batch': (at) =>
      at % day >= 2 * hour && at % day < 2 * hour + 25 * minute ? 2_000_000 * scatter() : 8_000,
    'weekly batch': (at) => (new Date(at).getUTCDay() === 0 && at % day < hour ? 3_000_000 * scatter() : 20_000),
    bursts: () => {
      if (random() < 1 / 90) burst = 1 + Math.floor(random() * 4);
      return burst-- > 0 ? 400_000 * scatter() : 15_000 * scatter();
    },
  };
}

test('of thirty simulated weeks no source has more than one false surge a month', () => {
  const random = seededRandom(5);
  for (const [name, bytesAt] of Object.entries(habits(random))) {
    const hours: SentBytes[] = [];
    let minutes: SentBytes[] = [];
    const found: number[] = [];
    const until = start + 30 * 7 * day;
    for (let hourStart = start; hourStart < until; hourStart += hour) {
      const rate = usualRate(hours.slice(-15 * 24), hourStart);
      let sum = 0;
      for (let at = hourStart; at < hourStart + hour; at += minute) {
        const bytes = bytesAt(at);
        sum += bytes;
        minutes.push({ start: at, bytes });
        const now = at + minute;
        // As the watch does: the rest is looked at where the last minutes look like one.
        const isOne = rate && bytes > rate.bytes && surgeAt(rate, minutes.slice(-3), now);
        const surge = isOne && surgeAt(rate, minutes.slice(-200), now);
        const isNew = surge && (found.at(-1) ?? 0) < now - hour;
        if (isNew && isUnheardOf(surge, minutes) && !isHabit(surge.since, found)) found.push(surge.since);
      }
      minutes = minutes.slice(-26 * 60);
      hours.push({ start: hourStart, bytes: sum });
    }
    expect([name, found.length <= 7, found.length]).toEqual([name, true, found.length]);
  }
});
