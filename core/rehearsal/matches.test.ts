import { expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { checkPlan } from '../plan/check.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { batchOf } from '../testing/batch-of.ts';
import { addMatches, mergeMatches, newMatches, planUpTo } from './matches.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'high', title: 'High', keep: '7d', when: 'n > 7' },
    {
      id: 'low',
      title: 'Low',
      keep: '7d',
      when: 'n > 2',
      exclusions: [{ id: 'x', title: 'X', when: 'n = 3', keep: 'none' }],
    },
  ],
  postures: [{ id: 'p', title: 'P', overrides: [{ exclusion: 'low/x', keep: 'all' }] }],
};

const batch = batchOf(
  Array.from({ length: 10 }, (_, n) => ({ n, msg: `line ${n}` })),
  'gates',
);

function matches(text: string, tier: string | undefined, within: boolean) {
  const found = newMatches();
  const cutOff = compilePlan(planUpTo(plan, tier, within));
  addMatches(found, { plan: cutOff, condition: conditionOf(text), tier, within, now: Date.now() }, batch);
  return found;
}

test.each([
  ['', 'high', false, 10, 10],
  ['n > 4', 'low', false, 8, 3],
  ['n = 3', 'low', true, 5, 1],
  ['n > 4', undefined, false, 3, 0],
] as const)(
  '%j of what comes to %s (within: %s) is asked of %d and holds for %d',
  (text, tier, within, of, matched) => {
    const found = matches(text, tier, within);
    expect([found.of.events, found.matched.events]).toEqual([of, matched]);
    expect(found.matched.bytes).toBeGreaterThanOrEqual(matched);
    expect(found.lines.length).toBe(Math.min(5, matched));
  },
);

test('parts of the tape add up, and the latest lines are shown', () => {
  const sum = newMatches();
  for (const time of [1, 3, 2]) {
    const part = matches('n > 7', 'high', false);
    mergeMatches(sum, { ...part, lines: part.lines.map((line) => ({ ...line, time })) });
  }
  expect([sum.of.events, sum.matched.events]).toEqual([30, 6]);
  expect(sum.lines.map(({ time }) => time)).toEqual([3, 3, 2, 2, 1]);
});

test('what is matched comes with what conditions before it match already, and who reads it', () => {
  const found = newMatches(2);
  const asked = {
    plan: compilePlan(planUpTo(plan, 'low', true)),
    condition: conditionOf('n > 3'),
    before: [conditionOf('n = 4'), conditionOf('n = 9')],
    readers: [conditionOf('n > 5'), conditionOf('n > 100')],
    ...{ tier: 'low', within: true, now: Date.now() },
  };
  addMatches(found, asked, batch);
  expect([found.matched.events, found.covered.events, found.read]).toEqual([4, 1, [2, 0]]);
  mergeMatches(found, found);
  expect([found.matched.events, found.covered.events, found.read]).toEqual([8, 2, [4, 0]]);
});

test('a plan that is cut off is right, whatever its postures are about', () => {
  for (const within of [true, false]) expect(checkPlan(planUpTo(plan, 'low', within)).ok).toBe(true);
});
