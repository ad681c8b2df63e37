import { expect, test } from 'vitest';
import type { PlanDocument } from './document.ts';
import { withConditions } from './with-conditions.ts';

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
