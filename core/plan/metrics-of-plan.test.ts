import { expect, test } from 'vitest';
import { demoPlan } from '#demo/plan.ts';
import { checkPlan } from './check.ts';
import { conditionsOf } from './conditions-of.ts';
import { diffPlans } from './diff.ts';
import type { PlanDocument } from './document.ts';
import { draftOf } from './draft-of.ts';
import { fieldUses } from './field-uses.ts';
import type { MetricDocument } from './parts/metrics/metrics-shape.ts';
import { placeInWords } from './place-in-words.ts';
import { readPlan, writePlan } from './plan-text.ts';

const metric: MetricDocument = {
  id: 'took',
  name: 'booking.took',
  when: 'source = booking-web',
  measure: 'distribution',
  of: 'took',
  by: [{ field: 'path', top: 10 }],
};
const plan = (...metrics: readonly object[]): PlanDocument => ({ ...demoPlan, metrics: metrics as MetricDocument[] });

test('everything that is wrong with metrics is reported at once, each with its place', () => {
  const checked = checkPlan(
    plan(
      { ...metric, when: 'took >', keep: '1h' },
      { ...metric, of: undefined, by: [{ field: 'tier' }, { field: 'a', table: 't' }] },
      { id: 'c', name: 'Booking.Took', when: '', measure: 'count', of: 'took', by: [{ field: 'x' }, { field: 'X' }] },
    ),
  );
  const problems = checked.ok ? [] : checked.problems;
  expect(problems.map(({ path }) => path)).toEqual([
    'metrics[1].id',
    'metrics[1].name',
    'metrics[2].name',
    'metrics[0].when',
    'metrics[0].keep',
    'metrics[1].of',
    'metrics[1].by[0].field',
    'metrics[1].by[1]',
    'metrics[2].of',
    'metrics[2].by[1].field',
  ]);
  const shapes = checkPlan(
    plan({ ...metric, name: '1st', measure: 'median', by: [{ field: 'a', tops: 3 }], limit: 0 }),
  );
  expect(shapes.ok ? [] : shapes.problems.map(({ path }) => path)).toEqual(
    expect.arrayContaining(['metrics[0].name', 'metrics[0].measure', 'metrics[0].by[0].tops', 'metrics[0].limit']),
  );
  expect(checkPlan(plan(metric))).toMatchObject({ ok: true });
});

test('what changed about metrics is reported in sentences', () => {
  const after = { ...metric, measure: 'max', by: [{ field: 'path' }, { field: 'status' }], limit: 50, keep: '30d' };
  expect(diffPlans(plan(metric), plan(after)).map(({ text }) => text)).toEqual([
    'metric “booking.took” keeps the greatest of took',
    'metric “booking.took” is kept by path, status',
    'metric “booking.took” has at most 50 series',
    'metric “booking.took” is kept for 30 d',
  ]);
  expect(diffPlans(plan(), plan(metric)).map(({ text }) => text)).toEqual(['metric “booking.took” is new']);
  expect(diffPlans(plan(metric), plan()).map(({ kind }) => kind)).toEqual(['removed']);
});

test('a metric reads fields and has a condition, and is found where it can be edited', () => {
  const of = plan(metric);
  expect(conditionsOf(of)).toContainEqual({ path: 'metrics[0].when', text: 'source = booking-web' });
  const read = fieldUses(of).readers.filter(({ at }) => at === 'took');
  expect(read.map(({ field }) => field)).toEqual(['took', 'path']);
  expect(placeInWords(of, 'metrics[0].by[0].field')).toEqual({
    words: 'Metric “booking.took”, key 1, field',
    item: { part: 'metrics', id: 'took', field: 'by' },
  });
  expect(placeInWords(of, 'metrics/took/of').words).toBe('Metric “booking.took”, of');
});

test('metrics are the same out of the text of a plan, and may be half written in a draft', () => {
  const read = readPlan(writePlan(plan(metric)));
  expect(read.ok && read.plan.metrics).toEqual([metric]);
  expect(() => draftOf(plan({ ...metric, name: '', when: 'took >', measure: '' }))).not.toThrow();
  expect(() => draftOf(plan({ ...metric, by: 'path' }))).toThrow('by');
});
