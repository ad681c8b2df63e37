import { expect, test } from 'vitest';
import { checkPlan } from './check.ts';
import type { PlanDocument } from './document.ts';
import { type PlanEdit, withPlanEdit } from './plan-edit.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [{ id: 'unused-fields-of-gates', title: 'Gates', when: 'source = gates', steps: [{ 'drop-body': {} }] }],
  tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
};

const leaveOut = (...fields: string[]): PlanEdit => ({ kind: 'remove-fields', source: 'gates', fields });

test('fields are left out by a pipeline after all others, which later ones are added to', () => {
  const once = withPlanEdit(plan, leaveOut('agent', 'status'));
  expect(checkPlan(once).ok).toBe(true);
  expect(once.pipelines.slice(1)).toEqual([
    {
      ...{ id: 'unused-fields-of-gates-2', title: 'Unused fields of gates', when: 'source = gates' },
      steps: [{ remove: { fields: ['agent', 'status'] } }],
    },
  ]);
  const twice = withPlanEdit(once, leaveOut('status', 'path'));
  expect(twice.pipelines.slice(1)).toMatchObject([{ steps: [{ remove: { fields: ['agent', 'status', 'path'] } }] }]);
  expect(withPlanEdit(twice, leaveOut('path'))).toEqual(twice);
});

test.each(['Gate.7', '7', 'a_b', `${'q'.repeat(60)}.x`])('the draft stays valid for a source called %s', (source) => {
  const once = withPlanEdit(plan, { kind: 'remove-fields', source, fields: ['a'] });
  expect(checkPlan(once)).toMatchObject({ ok: true });
  expect(withPlanEdit(once, { kind: 'remove-fields', source, fields: ['a'] })).toEqual(once);
});

test('a step that takes fields out of some events only is left as it is', () => {
  const step = { remove: { fields: ['agent'] }, when: 'level = debug' };
  const some: PlanDocument = { ...plan, pipelines: [{ id: 'p', title: 'P', when: 'source = gates', steps: [step] }] };
  expect(withPlanEdit(some, leaveOut('status')).pipelines).toMatchObject([
    { steps: [step] },
    { steps: [{ remove: { fields: ['status'] } }] },
  ]);
});

test('a tier that is gone leaves the plan as it is', () => {
  expect(withPlanEdit(plan, { kind: 'retention', tier: 'gone', keep: '1d' })).toEqual(plan);
});
