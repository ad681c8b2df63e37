import { expect, test } from 'vitest';
import { day, hour, minute, second } from '../events/time-units.ts';
import { arrivalsOf } from './arrivals.ts';
import { learn, newRhythm } from './rhythm.ts';
import { healthOf } from './state.ts';

const start = Date.UTC(2026, 10, 9);

/** Reports every 16 seconds for two days. */
const rhythm = newRhythm(start);
for (let time = start; time < start + 2 * day; time += 16 * second) learn(rhythm, arrivalsOf([time]));
const { last } = rhythm;

test.each([
  [0, 'steady', /^reports every 16 s; last heard 0 s ago$/],
  [18 * second, 'steady', /last heard 18 s ago/],
  [22 * second, 'late', /reports every 16 s; nothing for 22 s; expected within 2\d(\.\d)? s/],
  [9 * minute, 'silent', /reports every 16 s; nothing for 9 min; expected within/],
])('quiet for %i ms it is %s, with the reason in words', (quiet, state, reason) => {
  const health = healthOf(rhythm, last + quiet, { retired: false });
  expect(health.state).toBe(state);
  expect(health.reason).toMatch(reason);
});

test('silence has a begin and a moment from which on it could be known', () => {
  const { since, noticedAt, expected } = healthOf(rhythm, last + 9 * minute, { retired: false });
  expect(since).toBe(last);
  expect(noticedAt).toBeCloseTo(last + (expected?.silent ?? 0), -1);
});

test('what people said comes first: retired, under maintenance, announced as away', () => {
  const now = last + hour;
  expect(healthOf(rhythm, now, { retired: true }).state).toBe('retired');
  expect(healthOf(rhythm, now, { retired: false, maintenanceUntil: now + hour })).toMatchObject({
    state: 'maintenance',
    reason: 'under maintenance for another 1 h',
  });
  expect(healthOf(rhythm, now, { retired: false, maintenanceUntil: now - 1 }).state).toBe('silent');
  expect(healthOf(rhythm, now, { retired: false, expectedBack: now + 2 * hour })).toMatchObject({
    state: 'maintenance',
    reason: 'away as announced; expected back in 2 h',
  });
  expect(healthOf(rhythm, last + second, { retired: false, expectedBack: now + hour }).state).toBe('steady');
  expect(healthOf(rhythm, now, { retired: false, expectedBack: now - minute }).state).toBe('silent');
});

test('on its first day an emitter is new, and of one heard once no rhythm is known', () => {
  const fresh = newRhythm(start);
  learn(fresh, arrivalsOf([start]));
  expect(healthOf(fresh, start + minute, { retired: false })).toMatchObject({
    state: 'new',
    reason: 'heard once, 1 min ago; its rhythm is not known yet',
  });
  for (let i = 1; i < 60; i++) learn(fresh, arrivalsOf([start + i * minute]));
  expect(healthOf(fresh, start + hour, { retired: false })).toMatchObject({
    state: 'new',
    reason: 'first heard 1 h ago; reports every 1 min',
  });
});

test('one that stops on its first day is late, not silent: it may rest', () => {
  const fresh = newRhythm(start);
  for (let i = 0; i < 60; i++) learn(fresh, arrivalsOf([start + i * minute]));
  expect(healthOf(fresh, start + 59 * minute + 3 * hour, { retired: false })).toMatchObject({
    state: 'late',
    since: start + 59 * minute,
    reason: 'first heard 3 h 59 min ago; reports every 1 min; nothing for 3 h, which may be its rest',
  });
  expect(healthOf(fresh, start + 30 * hour, { retired: false }).state).not.toBe('new');
});

test.each([
  ['a file that was read in pieces', [0, 100, 250, 300, 420, 900, 1_500]],
  ['an upload', [0]],
  ['a batch of many deliveries', Array.from({ length: 200 }, (_, i) => i * 40)],
])('%s is no rhythm: the source is new, not late', (_, times) => {
  const burst = newRhythm(start);
  for (const time of times) learn(burst, arrivalsOf([start + time]));
  for (const later of [minute, hour, 20 * hour]) {
    const health = healthOf(burst, start + later, { retired: false });
    expect(health.state).toBe('new');
    expect(health.reason).toMatch(/its rhythm is not known yet/);
  }
});

test('of what was uploaded nothing is expected', () => {
  expect(healthOf(rhythm, last + 9 * minute, { retired: false, unexpected: true })).toMatchObject({
    state: 'steady',
    reason: expect.stringContaining('nothing more is expected'),
  });
});
