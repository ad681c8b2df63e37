import { expect, test } from 'vitest';
import { checkPlan } from '../plan/check.ts';
import { firstPlan } from '../plan/document.ts';
import { readPipeline, readPlan, writePipeline, writePlan } from '../plan/plan-text.ts';
import { runTest, runTests } from '../plan/run-tests.ts';
import { kitFor, starterKits } from './index.ts';

test.each(starterKits.map((kit) => [kit.id, kit] as const))(
  'the kit %s is a valid pipeline whose tests pass',
  (_, kit) => {
    const pipeline = kit.pipeline('wharf');
    const checked = checkPlan({ ...firstPlan, pipelines: [pipeline] });
    expect(checked.ok ? [] : checked.problems).toEqual([]);
    expect(pipeline.tests?.length).toBeGreaterThan(0);
    for (const each of pipeline.tests ?? [])
      expect(runTest(pipeline, each)).toMatchObject({ passed: true, name: each.name });
    for (const { input } of pipeline.tests ?? []) expect(kit.fits(input.split('\n')[0] as string)).toBe(true);
  },
);

test('the kit that fits the lines of a source is offered', () => {
  const [access] = starterKits[0]?.pipeline('x').tests ?? [];
  expect(kitFor([access?.input ?? ''])?.id).toBe('web-access');
  expect(kitFor(['nothing known', 'at all'])).toBeUndefined();
});

test('a test that fails blocks, with the field and both values', () => {
  const pipeline = {
    id: 'p',
    title: 'P',
    when: 'source = a',
    steps: [{ extract: { from: 'body', template: 'n={n:int}' } }],
    tests: [{ name: 'number', input: 'n=7', expect: { n: 8 } }],
  };
  expect(runTests({ ...firstPlan, pipelines: [pipeline] })).toEqual([
    { path: 'pipelines[0].tests[0]', message: 'test “number” of “P” fails: n is 7, expected 8' },
  ]);
});

test('a plan and a pipeline survive YAML, and faults are named with line and column', () => {
  const plan = { ...firstPlan, pipelines: starterKits.map((kit) => kit.pipeline('wharf')) };
  expect(readPlan(writePlan(plan))).toEqual({ ok: true, plan });
  const pipeline = plan.pipelines[0] as (typeof plan.pipelines)[number];
  expect(readPipeline(writePipeline(pipeline))).toEqual({ ok: true, pipeline });
  const faulty = readPlan('plan: 1\ntiers:\n  - id: rest\n    title: Rest\n    keep: long\n    when: a ==\n');
  if (faulty.ok) throw new Error('was taken');
  expect(faulty.problems.map(({ line, column, path }) => [line, column, path])).toEqual([
    [6, 11, 'tiers[0].when'],
    [5, 11, 'tiers[0].keep'],
  ]);
  const broken = readPlan('plan: [1\n');
  expect(broken.ok ? [] : broken.problems[0]).toMatchObject({ line: expect.any(Number), message: expect.any(String) });
});
