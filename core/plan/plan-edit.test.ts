import { expect, test } from 'vitest';
import { checkPlan } from './check.ts';
import type { PlanDocument } from './document.ts';
import { type PlanEdit, withPlanEdit } from './plan-edit.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [{ id: 'gates-unused-fields', title: 'Gates', when: 'source = gates', steps: [{ 'drop-body': {} }] }],
  tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
};

const leaveOut = (...fields: string[]): PlanEdit => ({ kind: 'remove-fields', source: 'gates', fields });

test('fields are left out by a pipeline after all others, which later ones are added to', () => {
  const once = withPlanEdit(plan, leaveOut('agent', 'status'));
  expect(checkPlan(once).ok).toBe(true);
  expect(once.pipelines.slice(1)).toEqual([
    {
      ...{ id: 'gates-unused-fields-2', title: 'Unused fields of gates', when: 'source = gates' },
      steps: [{ remove: { fields: ['agent', 'status'] } }],
    },
  ]);
  const twice = withPlanEdit(once, leaveOut('status', 'path'));
  expect(twice.pipelines.slice(1)).toMatchObject([{ steps: [{ remove: { fields: ['agent', 'status', 'path'] } }] }]);
  expect(withPlanEdit(twice, leaveOut('path'))).toEqual(twice);
});

test('a source whose name needs quotes has a condition that is read', () => {
  const edit: PlanEdit = { kind: 'remove-fields', source: 'in (x)', fields: ['a'] };
  const once = withPlanEdit(plan, edit);
  expect(once.pipelines.at(-1)?.when).toBe('source = "in (x)"');
});

test('a tier that is gone leaves the plan as it is', () => {
  expect(withPlanEdit(plan, { kind: 'retention', tier: 'gone', keep: '1d' })).toEqual(plan);
});
