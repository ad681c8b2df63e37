import { describe, expect, test } from 'vitest';
import { demoPlan } from '#demo/plan.ts';
import { readPipeline, readPlan, writePipeline, writePlan } from './plan-text.ts';

test('a plan survives being written and read', () => {
  expect(readPlan(writePlan(demoPlan))).toMatchObject({ ok: true, plan: demoPlan });
});

test('a plan may be JSON', () => {
  expect(readPlan(JSON.stringify(demoPlan))).toMatchObject({ ok: true, plan: demoPlan });
});

test.each(demoPlan.pipelines.map((pipeline) => [pipeline.id, pipeline] as const))(
  'the pipeline %s survives being written and read alone',
  (_, pipeline) => {
    expect(readPipeline(writePipeline(pipeline))).toEqual({ ok: true, pipeline });
  },
);

describe('faults have a place', () => {
  test('in the text', () => {
    const read = readPlan('plan: 1\npipelines: [\n');
    expect(read.ok).toBe(false);
    if (!read.ok) expect(read.problems[0]?.line).toBeGreaterThanOrEqual(2);
  });

  test('in the plan', () => {
    const text = `plan: 1
pipelines:
  - id: gates
    title: Gates
    when: source = gates
    steps:
      - convert: { field: took, to: durations }
tiers:
  - id: rest
    title: Rest
    keep: 7 days
`;
    const read = readPlan(text);
    expect(read.ok).toBe(false);
    if (read.ok) return;
    expect(read.problems.map(({ line }) => line)).toEqual(expect.arrayContaining([7, 11]));
  });

  test('an alias that unfolds for ever is refused', () => {
    const levels = Array.from({ length: 30 }, (_, i) => `a${i}: &a${i} [${i ? `*a${i - 1}, *a${i - 1}` : '1'}]`);
    expect(readPlan(levels.join('\n')).ok).toBe(false);
  });

  test('a pipeline alone must be one', () => {
    expect(readPipeline('title: Gates').ok).toBe(false);
    expect(readPipeline('- 1').ok).toBe(false);
  });
});

describe('a text that is made to be read for ever', () => {
  const flat = Array.from({ length: 20_000 }, (_, i) => `key${i}: 1`).join('\n');
  test.each([
    ['thousands of keys', flat, /more than 2000 keys/],
    ['a key twice', 'plan: 1\ntiers: []\nplan: 1', /plan stands here a second time/],
    ['an alias of itself', 'plan: &a [*a]', /a part of/],
    ['nesting', '['.repeat(1_900), /nested too deeply|flow sequence/i],
    [
      'one line of everything',
      `{${Array.from({ length: 9_000 }, (_, i) => `k${i}: 1`).join(',')}}`,
      /line 1 holds more/,
    ],
    ['a million dashes', '- '.repeat(400_000), /nested too deeply|must be|required/],
  ])('%s is refused', (_, text, message) => {
    const read = readPlan(text);
    expect(read.ok ? '' : read.problems[0]?.message).toMatch(message);
  });
});
