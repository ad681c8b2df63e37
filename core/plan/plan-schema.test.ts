import Ajv from 'ajv/dist/2020.js';
import { describe, expect, test } from 'vitest';
import { demoPlan } from '#demo/plan.ts';
import { starterKits } from '../kits/index.ts';
import { stepKinds } from '../steps/index.ts';
import type { StepDocument } from '../steps/step-document.ts';
import { checkPlan } from './check.ts';
import { firstPlan, type PlanDocument } from './document.ts';
import { planSchema } from './plan-schema.ts';

const takes = new Ajv({ strictTypes: false }).compile(planSchema());

function withStep(step: StepDocument): PlanDocument {
  return { ...firstPlan, pipelines: [{ id: 'p', title: 'P', when: '', steps: [step] }] };
}

describe('the JSON Schema of plans', () => {
  test('takes the plan of the demo and those of all starter kits', () => {
    const plans = [demoPlan, ...starterKits.map((kit) => ({ ...firstPlan, pipelines: [kit.pipeline('somewhere')] }))];
    for (const plan of plans) {
      takes(JSON.parse(JSON.stringify(plan)));
      expect(takes.errors ?? []).toEqual([]);
    }
  });

  test.each([...stepKinds.values()].map((kind) => [kind.kind, kind] as const))(
    'takes the example of %s with a guard, and tells what it does',
    (kind, { example, help }) => {
      const plan = withStep({ [kind]: example.options, when: 'has a', 'on-failure': 'reject' });
      takes(JSON.parse(JSON.stringify(plan)));
      expect(takes.errors ?? []).toEqual([]);
      expect(JSON.stringify(planSchema())).toContain(JSON.stringify(help));
    },
  );

  test.each([
    ['a step of no kind', withStep({ wash: {} })],
    ['an option that is none', withStep({ rename: { from: 'a', to: 'b', form: 'c' } })],
    ['an option that is missing', withStep({ rename: { from: 'a' } })],
    ['a choice that is none', withStep({ remove: { fields: ['a'] }, 'on-failure': 'shrug' })],
    ['a guard that is no text', withStep({ remove: { fields: ['a'] }, when: ['has a'] })],
    ['a step inside a step', withStep({ choose: { branches: [{ when: 'has a', steps: [{ wash: {} }] }] } })],
    ['an id of capitals', { ...firstPlan, tiers: [{ id: 'Rest', title: 'Rest', keep: '7d' }] }],
    ['another version', { ...firstPlan, plan: 2 }],
  ])('refuses %s, as the check does', (_, plan) => {
    expect(takes(plan)).toBe(false);
    expect(checkPlan(plan).ok).toBe(false);
  });
});
