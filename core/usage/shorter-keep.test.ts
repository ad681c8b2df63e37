import { expect, test } from 'vitest';
import { day } from '../events/time-units.ts';
import { shorterKeep } from './shorter-keep.ts';

const now = Date.UTC(2026, 11, 1);
const usage = { since: now - 12 * day, oldestAge: 2.5 * day };

test.each([
  ['a day more than the oldest event that was read', usage, 15 * day, 4],
  ['nothing if that is more than half', usage, 7 * day, undefined],
  ['nothing before a week is known', { ...usage, since: now - 6 * day }, 15 * day, undefined],
  ['nothing if nothing was read', { ...usage, oldestAge: null }, 15 * day, undefined],
  ['nothing if nothing was recorded', { ...usage, since: null }, 15 * day, undefined],
  ['a day for events that were read at once', { ...usage, oldestAge: 0 }, 15 * day, 1],
])('offers %s', (_, known, keep, days) => {
  expect(shorterKeep(known, keep, now)).toBe(days);
});
