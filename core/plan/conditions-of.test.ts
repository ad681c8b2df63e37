import { expect, test } from 'vitest';
import { conditionsOf, withConditions } from './conditions-of.ts';
import type { PlanDocument } from './document.ts';

const plan = (when: string): PlanDocument => ({
  plan: 1,
  pipelines: [
    {
      id: 'gates',
      title: 'when the gates open',
      when,
      steps: [
        { 'drop-body': {}, when },
        { choose: { branches: [{ when, steps: [{ 'drop-body': {}, when }] }, { steps: [] }] } },
      ],
      tests: [{ name: 'one', input: 'when', expect: { when: 'a' } }],
    },
  ],
  tiers: [
    { id: 'low', title: 'Low', when, keep: '2d', exclusions: [{ id: 'probes', title: 'Probes', when, keep: 'none' }] },
    { id: 'rest', title: 'Everything', keep: '7d' },
  ],
});

test('every condition of a plan is replaced, and nothing else', () => {
  expect(withConditions(plan('a'), (condition) => `${condition}${condition}`)).toEqual(plan('aa'));
});

test('each is reported with its path', () => {
  expect(conditionsOf(plan('a')).map(({ path }) => path)).toEqual([
    'pipelines[0].when',
    'pipelines[0].steps[0].when',
    'pipelines[0].steps[1].choose.branches[0].when',
    'pipelines[0].steps[1].choose.branches[0].steps[0].when',
    'tiers[0].when',
    'tiers[0].exclusions[0].when',
  ]);
});
