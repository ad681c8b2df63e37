import { describe, expect, test } from 'vitest';
import { day } from '../events/time-units.ts';
import { expiredStretches } from '../routing/retention.ts';
import type { PlanDocument } from './document.ts';
import { keepOf, shorterTiers } from './retention.ts';

const now = Date.UTC(2026, 10, 24, 9);
const plan = (...tiers: readonly (readonly [string, string])[]): PlanDocument => ({
  plan: 1,
  pipelines: [],
  tiers: tiers.map(([id, keep]) => ({ id, title: id.toUpperCase(), keep })),
});

test('how long a tier keeps events, built-in ones too', () => {
  expect(keepOf(plan(['a', '3d']), 'a')).toBe(3 * day);
  expect(keepOf(plan(), 'passing')).toBe(3_600_000);
  expect(keepOf(plan(), 'rejects')).toBe(7 * day);
  expect(keepOf(plan(), 'a')).toBeUndefined();
});

test('tiers that are shortened or taken out, and no others', () => {
  expect(
    shorterTiers(plan(['a', '3d'], ['b', '3d'], ['c', '1d']), plan(['c', '2d'], ['a', '36h'], ['d', '1h'])),
  ).toEqual([
    { tier: 'a', title: 'A', keptFor: 3 * day, keepsFor: 1.5 * day },
    { tier: 'b', title: 'B', keptFor: 3 * day, keepsFor: 0 },
  ]);
});

describe('what goes of a tier', () => {
  const grace = (more: object = {}) => ({ keptFor: 3 * day, before: now - 3_600_000, until: now + 1, ...more });

  test('is what is older than it keeps', () => {
    expect(expiredStretches(3 * day, [], now)).toEqual([{ from: 0, before: now - 3 * day }]);
    expect(expiredStretches(undefined, [], now)).toEqual([]);
  });

  test('during grace, of what was there only what would have gone anyway; of what came since, what is too old', () => {
    expect(expiredStretches(day, [grace()], now)).toEqual([{ from: 0, before: now - 3 * day }]);
    expect(expiredStretches(600_000, [grace()], now)).toEqual([
      { from: 0, before: now - 3 * day },
      { from: now - 3_600_000, before: now - 600_000 },
    ]);
  });

  test('after it, all that the plan does not keep; of a tier that is no more, everything', () => {
    expect(expiredStretches(day, [grace({ until: now })], now)).toEqual([{ from: 0, before: now - day }]);
    expect(expiredStretches(undefined, [grace({ until: now })], now)).toEqual([{ from: 0, before: now }]);
    expect(expiredStretches(undefined, [grace()], now)).toEqual([
      { from: 0, before: now - 3 * day },
      { from: now - 3_600_000, before: now },
    ]);
  });

  test('with several graces, by the one that keeps longest', () => {
    const graces = [grace(), grace({ keptFor: 9 * day, before: now - 5 * day })];
    expect(expiredStretches(day, graces, now)).toEqual([
      { from: 0, before: now - 9 * day },
      { from: now - 5 * day, before: now - 3 * day },
    ]);
  });
});
