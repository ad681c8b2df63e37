import { expect, test } from 'vitest';
import { checkPlan } from '../plan/check.ts';
import { firstPlan } from '../plan/document.ts';
import { readPipeline, readPlan, writePipeline, writePlan } from '../plan/plan-text.ts';
import { runTest, runTests } from '../plan/run-tests.ts';
import { pipelineFromTemplate } from './from-template.ts';
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

test('a kit is extended for lines with additional fields', () => {
  const lines = Array.from(
    { length: 20 },
    (_, i) =>
      `192.0.2.${i} - - [15/Jan/2026:11:59:02 +0000] "GET /a/${i} HTTP/1.1" 200 ${i + 7} "-" "Kiosk/2" 0.${100 + i}`,
  );
  const kit = kitFor(lines);
  expect(kit?.title).toBe('Web access lines, extended at the end');
  const pipeline = kit?.pipeline('wharf');
  if (!pipeline) throw new Error('no kit');
  expect(checkPlan({ ...firstPlan, pipelines: [pipeline] }).ok).toBe(true);
  for (const each of pipeline.tests ?? []) expect(runTest(pipeline, each)).toMatchObject({ passed: true });
  const input = lines[3] as string;
  expect(runTest(pipeline, { name: 'more', input, expect: { status: 200, took: 0.103 } })).toMatchObject({
    passed: true,
  });
});

test('a pipeline made from a template takes time, severity and body from its fields', () => {
  const pipeline = pipelineFromTemplate('{at:time} [{level}] {pid:int}: {message:rest}', 'wharf');
  expect(checkPlan({ ...firstPlan, pipelines: [pipeline] }).ok).toBe(true);
  const input = '2026/01/15 11:59:02 [warn] 12: the pilot is late';
  const expected = {
    pid: 12,
    severity: 'warn',
    body: 'the pilot is late',
    time: '2026-01-15T11:59:02.000Z',
    message: null,
  };
  expect(runTest(pipeline, { name: 'a line', input, expect: expected })).toMatchObject({ passed: true });
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
