import { expect, test } from 'vitest';
import { seededRandom } from '../routing/route.ts';
import { countSeen, growthPower, newSeenValues, seeValue } from './seen-values.ts';

/** Draws the value of a key, a whole number, at a share of the time (0 to 1). */
type Draw = (time: number) => number;

/** A key whose values come as by chance, the first ones most: the `i`-th one as 1 / i^`skew`. */
function skewed(random: () => number, count: number, skew: number): Draw {
  const sums = new Float64Array(count);
  let sum = 0;
  for (let i = 0; i < count; i++) sums[i] = sum += (i + 1) ** -skew;
  return () => {
    const wanted = random() * sum;
    let [low, high] = [0, count - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sums[middle] as number) < wanted) low = middle + 1;
      else high = middle;
    }
    return low;
  };
}

/** A key that brings new values all the time, each for a while. */
function growing(random: () => number, count: number, span: number): Draw {
  return (time) => Math.floor((time * (1 - span) + random() * span) * count);
}

/** Traffic of a day with some keys, and what a sample of it says of their combinations. */
function trial(seed: number) {
  const random = seededRandom(seed * 7_919 + 17);
  const between = (least: number, most: number): number => least * (most / least) ** random();
  const events = Math.round(between(60_000, 300_000));
  const keys = Array.from({ length: 1 + Math.floor(random() * 3) }, (_, i): Draw => {
    const kind = random();
    if (kind < 0.45) return skewed(random, Math.round(between(3, 40)), 1 + random() * 0.6);
    if (kind < 0.75) return skewed(random, Math.round(between(50, i === 0 ? 20_000 : 300)), 0.4 + random() * 0.7);
    return growing(random, Math.round(between(50, i === 0 ? 10_000 : 200)), 0.02 + random() * 0.2);
  });
  const correlated = random() < 0.5;
  const share = between(0.05, 1);
  const seen = newSeenValues();
  const all = new Set<number>();
  const records = { records: 0, events: 0, earlyRecords: 0, earlyEvents: 0 };
  for (let i = 0; i < events; i++) {
    const time = i / events;
    const first = (keys[0] as Draw)(time);
    let value = first;
    for (const key of keys.slice(1)) value = value * 1_009 + (correlated && random() < 0.9 ? first % 7 : key(time));
    all.add(value);
    records.events++;
    if (time < 0.5) records.earlyEvents++;
    if (random() >= share) continue;
    records.records++;
    if (time < 0.5) records.earlyRecords++;
    seeValue(seen, Math.imul(value, 0x9e3779b1) ^ (value >>> 7), 1, time < 0.5);
  }
  return { true: all.size, estimate: countSeen(seen, records) };
}

test('series before they exist: within a fifth in 27 of 30 sets of keys, never under half, and within the bounds', () => {
  const trials = Array.from({ length: 30 }, (_, seed) => trial(seed));
  const off = trials.map(({ true: count, estimate }) => estimate.likely / count);
  expect(off.filter((ratio) => Math.abs(ratio - 1) <= 0.2).length).toBeGreaterThanOrEqual(27);
  for (const [i, ratio] of off.entries()) {
    expect(ratio).toBeGreaterThan(0.5);
    const { estimate, true: count } = trials[i] as (typeof trials)[number];
    expect(count).toBeLessThan(estimate.most * 1.05);
    expect(count).toBeGreaterThan(estimate.least * 0.95);
  }
});

test('what is complete is reported as it is, and growth by whether new values come', () => {
  const [few, users] = [newSeenValues(), newSeenValues()];
  const records = { records: 2_000, events: 2_000, earlyRecords: 1_000, earlyEvents: 1_000 };
  for (let i = 0; i < 2_000; i++) {
    seeValue(few, i % 30, 1, i < 1_000);
    seeValue(users, i, 1, i < 1_000);
  }
  expect(countSeen(few, records)).toEqual({ likely: 30, least: 30, most: 30 });
  expect(growthPower(few, records)).toBe(0);
  expect(growthPower(users, records)).toBeCloseTo(1, 1);
  const late = { ...records, earlyRecords: 0, earlyEvents: 0 };
  expect([growthPower(few, late), growthPower(users, late)]).toEqual([0, 1]);
  expect(growthPower(newSeenValues(), late)).toBe(0);
});
