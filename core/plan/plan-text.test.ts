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
