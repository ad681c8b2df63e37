import { expect, test } from 'vitest';
import { answerOf } from '../../../rehearsal/answer-of.ts';
import { mergeRehearsal, newRehearsal, rehearseBatch } from '../../../rehearsal/rehearse.ts';
import { arrival, batchOf } from '../../../testing/batch-of.ts';
import { compilePlan } from '../../compile.ts';
import type { PlanDocument } from '../../document.ts';
import type { MetricDocument } from './metrics-shape.ts';
import { isLeftAlone } from './rehearse-metrics.ts';

const fares: MetricDocument = { id: 'fares', name: 'fares', when: '', measure: 'sum', of: 'fare' };
const rides: MetricDocument = { id: 'rides', name: 'rides', when: '', measure: 'count', by: [{ field: 'port' }] };

function planOf(metrics: readonly MetricDocument[], steps: PlanDocument['pipelines'][number]['steps'] = []) {
  return compilePlan({
    plan: 1,
    pipelines: [{ id: 'p', title: 'P', when: '', steps }],
    tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
    metrics,
  });
}

test('a rehearsal tells which metrics a draft changes, and by how much', () => {
  const draft = planOf(
    [fares, { ...rides, by: [{ field: 'port' }, { field: 'pier' }] }],
    [{ rename: { from: 'fare', to: 'price' } }],
  );
  const plans = { live: planOf([fares, rides]), draft, now: arrival };
  const events = Array.from({ length: 40 }, (_, i) => ({ fare: i, port: `port ${i % 2}`, pier: `pier ${i % 3}` }));
  const whole = newRehearsal();
  for (const part of [events.slice(0, 15), events.slice(15)]) {
    const rehearsal = newRehearsal();
    const batch = batchOf(part, 'fares');
    rehearseBatch(rehearsal, plans, { ...batch, weight: batch.weight.map(() => 3) });
    mergeRehearsal(whole, rehearsal);
  }
  const { metrics = [] } = answerOf(whole, { from: arrival - 86_400_000, to: arrival }, 0);
  expect(metrics).toEqual([
    {
      ...{ id: 'fares', name: 'fares', figure: 'sum', unit: '' },
      live: { events: 120, value: 3 * 780, series: 1 },
      draft: { events: 0, value: null, series: 0 },
    },
    {
      ...{ id: 'rides', name: 'rides', figure: 'count', unit: '' },
      live: { events: 120, value: 120, series: 2 },
      draft: { events: 120, value: 120, series: 6 },
    },
  ]);
  expect(metrics.map(isLeftAlone)).toEqual([false, false]);
  const [, same] = metrics;
  expect(isLeftAlone({ live: same?.live ?? null, draft: same?.live ?? null })).toBe(true);
  expect(isLeftAlone({ live: null, draft: same?.draft ?? null })).toBe(false);
});
