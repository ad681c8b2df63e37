import pino from 'pino';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { day } from '#core/events/time-units.ts';
import type { Database } from '#store/database.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { ClockGuard, clockAfter } from './clock-guard.ts';

const now = Date.UTC(2026, 10, 24, 12);
const log = pino({ level: 'silent' });
let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

test('a clock that goes on as clocks do holds nothing up', () => {
  let state = clockAfter(undefined, now, day);
  for (const passed of [30_000, 60_000, day]) {
    state = clockAfter(state, now + passed, day);
    expect(state).toMatchObject({ at: now + passed, heldUntil: 0 });
  }
});

test('after a leap nothing is deleted for a day, unless the clock goes back', () => {
  const before = clockAfter(undefined, now, day);
  const year = now + 365 * day;
  const leapt = clockAfter(before, year, day);
  expect(leapt).toEqual({ at: year, leapt: 365 * day, heldUntil: year + day });
  expect(clockAfter(leapt, year + 3_600_000, day)).toMatchObject({ leapt: 365 * day, heldUntil: year + day });
  expect(clockAfter({ ...leapt, at: year + day - 1 }, year + day, day)).toMatchObject({ leapt: 0, heldUntil: 0 });
  expect(clockAfter(leapt, now + 60_000, day)).toMatchObject({ at: now + 60_000, heldUntil: 0 });
});

test('engines know of it together, and one that starts knows it too', async () => {
  const one = new ClockGuard(database, day, log);
  expect(await one.mayDelete(now)).toBe(true);
  expect(await one.mayDelete(now + 30 * day)).toBe(false);
  expect(one.leapAt(now + 30 * day)).toMatchObject({ leapt: 30 * day, heldUntil: now + 31 * day });
  const other = new ClockGuard(database, day, log);
  expect(await other.mayDelete(now + 30 * day + 60_000)).toBe(false);
  expect(await other.mayDelete(now + 60_000)).toBe(true);
  expect(await one.mayDelete(now + 90_000)).toBe(true);
});
