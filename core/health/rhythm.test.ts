import { describe, expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { arrivalsOf } from './arrivals.ts';
import { classOf, classStart, gapClasses } from './gap-classes.ts';
import { packRhythm, unpackRhythm } from './pack-rhythm.ts';
import { expectationOf, learn, newRhythm, type Rhythm, workingTime } from './rhythm.ts';
import { healthOf } from './state.ts';

/** A Monday. */
const start = Date.UTC(2026, 10, 9);

/** The rhythm of an emitter heard at some times, one delivery each. */
function heard(times: readonly number[]): Rhythm {
  const rhythm = newRhythm(times[0] ?? start);
  for (const time of times) learn(rhythm, arrivalsOf([time]));
  return rhythm;
}

const every = (interval: number, until: number, from = start): readonly number[] =>
  Array.from({ length: Math.floor((until - from) / interval) }, (_, i) => from + i * interval);

describe('gap classes', () => {
  test('cover all gaps, each class beginning where the one before ends', () => {
    for (const gap of [1, 2, 999, 16_000, hour, day, 40 * day]) {
      const index = classOf(gap);
      expect(classStart(index)).toBeLessThanOrEqual(gap * 1.000001);
      if (index < gapClasses - 1) expect(classStart(index + 1)).toBeGreaterThan(gap * 0.999999);
    }
    expect(classOf(0)).toBe(0);
    expect(classOf(1e15)).toBe(gapClasses - 1);
  });
});

describe('what is expected', () => {
  test('nothing before there are enough gaps', () => {
    expect(expectationOf(heard(every(minute, start + 4 * minute)))).toBeUndefined();
    expect(expectationOf(heard(every(minute, start + 6 * minute)))?.interval).toBeCloseTo(minute, -3);
  });

  test('of one that reports every two seconds after forty seconds; its silence shows within thirty', () => {
    expect(expectationOf(heard(every(2_000, start + 28_000)))).toBeUndefined();
    const rhythm = heard(every(2_000, start + 60_000));
    expect(expectationOf(rhythm)?.interval).toBeCloseTo(2_000, -1);
    const stateAfter = (quiet: number) => healthOf(rhythm, rhythm.last + quiet, { retired: false }).state;
    expect([stateAfter(4_000), stateAfter(30_000), stateAfter(24 * minute)]).toEqual(['new', 'late', 'late']);
  });

  test('of one that was stopped and started again it is the rhythm that it has, not the pause', () => {
    for (const events of [8, 20, 100]) {
      const first = every(2_000, start + events * 2_000);
      const again = every(2_000, start + 15 * minute, start + events * 2_000 + 5 * minute);
      const expected = expectationOf(heard([...first, ...again]));
      expect(expected?.interval).toBeCloseTo(2_000, -1);
      expect(expected?.silent).toBe(10_000);
    }
  });

  test('of one that sends in bursts it is known after some of them', () => {
    const bursts = Array.from({ length: 8 }, (_, i) =>
      every(200, start + i * 5 * minute + 2_000, start + i * 5 * minute),
    );
    expect(expectationOf(heard(bursts.flat()))?.interval).toBeGreaterThan(4 * minute);
  });

  test.each([
    ['every 16 s', 16_000],
    ['every minute', minute],
    ['every quarter of an hour', 15 * minute],
    ['every six hours', 6 * hour],
  ])('%s: silent within three intervals', (_, interval) => {
    const expected = expectationOf(heard(every(interval, start + 60 * interval)));
    expect(expected?.interval).toBeCloseTo(interval, -1);
    expect(expected?.silent).toBeGreaterThan(interval * 1.05);
    expect(expected?.silent).toBeLessThan(interval * 3);
    expect(expected?.late).toBeLessThanOrEqual(expected?.silent ?? 0);
  });

  test('a burst of any size weighs next to nothing', () => {
    const steady = every(10 * minute, start + day);
    const burst = Array.from({ length: 5_000 }, (_, i) => start + 12 * hour + i * 20);
    const rhythm = heard([...steady, ...burst].sort((a, b) => a - b));
    expect(expectationOf(rhythm)?.interval).toBeCloseTo(10 * minute, -5);
  });

  test('deliveries of many events say the same as single ones', () => {
    const times = every(7_000, start + hour);
    const together = newRhythm(start);
    for (let i = 0; i < times.length; i += 50) learn(together, arrivalsOf(times.slice(i, i + 50)));
    const single = expectationOf(heard(times));
    expect(expectationOf(together)?.interval).toBeCloseTo(single?.interval ?? 0, 0);
    expect(together.events).toBe(times.length);
  });

  test('what comes late from before only counts', () => {
    const rhythm = heard(every(minute, start + hour));
    const before = expectationOf(rhythm);
    learn(rhythm, arrivalsOf([start + 5 * minute, start + 50 * minute]));
    expect(rhythm.events).toBe(62);
    expect(expectationOf(rhythm)).toEqual(before);
  });
});

describe('working time', () => {
  const byDay = every(5 * minute, start + 5 * day).filter((time) => time % day >= 6 * hour && time % day < 20 * hour);

  test('of an emitter that never rests is all time', () => {
    const rhythm = heard(every(5 * minute, start + 2 * day));
    expect(workingTime(rhythm, start + 2 * day, start + 2 * day + 3 * hour)).toBe(3 * hour);
  });

  test('of one that rests at night leaves the night out', () => {
    const rhythm = heard(byDay);
    const friday = start + 4 * day;
    expect(workingTime(rhythm, friday + 22 * hour, friday + 28 * hour)).toBe(0);
    expect(workingTime(rhythm, friday + 10 * hour, friday + 12 * hour)).toBe(2 * hour);
    const health = healthOf(rhythm, friday + 27 * hour, { retired: false });
    expect(health.state).not.toBe('silent');
  });

  test('of one that has been known for less than a day is unknown: it may have had its day', () => {
    const rhythm = heard(every(5 * minute, start + 3 * hour));
    expect(workingTime(rhythm, start + 3 * hour, start + 5 * hour)).toBe(0);
  });
});

test('a gap that keeps coming back becomes the rhythm; a single outage does not', () => {
  const steady = every(minute, start + 2 * day);
  const once = heard([...steady, ...every(minute, start + 2 * day + 8 * hour, start + 2 * day + 3 * hour)]);
  expect(expectationOf(once)?.silent).toBeLessThan(10 * minute);
  const times = [...steady];
  for (let i = 0; i < 8; i++) {
    const from = start + 2 * day + i * 3 * hour;
    times.push(...every(minute, from + 3 * hour, from + hour));
  }
  expect(expectationOf(heard(times))?.silent).toBeGreaterThan(hour);
});

test('a rhythm that is packed and unpacked goes on as before', () => {
  const times = every(3 * minute, start + 9 * day);
  const half = times.length >> 1;
  const whole = heard(times);
  const restored = unpackRhythm(JSON.parse(JSON.stringify(packRhythm(heard(times.slice(0, half))))));
  for (const time of times.slice(half)) learn(restored, arrivalsOf([time]));
  expect(expectationOf(restored)?.interval).toBeCloseTo(expectationOf(whole)?.interval ?? 0, 0);
  expect([...restored.week]).toEqual([...whole.week]);
  expect(restored.last).toBe(whole.last);
});
