import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { MetricAnswer, MetricExpressionAnswer } from '#core/answers/metrics.ts';
import { firstPlan } from '#core/plan/document.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';
import { sendSurely } from '../testing/surely.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('quay');
  const by = [{ field: 'gate' }, { field: 'lane' }];
  await engine.publish({
    ...firstPlan,
    metrics: [
      { id: 'all', name: 'quay.all', when: '', measure: 'count', by },
      { id: 'late', name: 'quay.late', when: 'wait > 5', measure: 'count', by: [{ field: 'gate' }], empty: 'zero' },
      { id: 'wait', name: 'quay.wait', when: '', measure: 'distribution', of: 'wait', by },
    ],
  });
  const at = Date.now() - 1_800_000;
  const lines = Array.from({ length: 120 }, (_, i) =>
    JSON.stringify({ time: new Date(at + i * 1_000).toISOString(), gate: `g${i % 3}`, lane: i % 2, wait: i % 10 }),
  );
  await sendSurely(() => engine, { source: 'quay', body: lines.join('\n'), at, key: 'all' });
}, 60_000);

afterAll(() => engine?.stop());

const put = (expression: string, more: object = {}): Promise<MetricExpressionAnswer> =>
  engine.ask<MetricExpressionAnswer>('metricExpression', { expression, from: '-1h', to: 'now', ...more });

test('metrics are put together over the window, by step and by the keys that all of them have', async () => {
  await expect
    .poll(async () => (await engine.ask<MetricAnswer>('metric', { id: 'all' })).whole.all, { timeout: 30_000 })
    .toBe(120);
  const share = await put('quay.late / quay.all * 100');
  expect(share.whole.all).toBeCloseTo(40, 9);
  expect(share.keys).toEqual(['gate']);
  expect(share.whole.values.filter((value) => value !== null).length).toBeGreaterThanOrEqual(2);
  const byGate = await put('quay.late / quay.all', { by: 'gate' });
  expect(byGate.lines.map(({ labels }) => labels[0]).sort()).toEqual(['g0', 'g1', 'g2']);
  const [first] = byGate.lines;
  const late = await engine.ask<MetricAnswer>('metric', { id: 'late', from: '-1h', by: 'gate' });
  const all = await engine.ask<MetricAnswer>('metric', { id: 'all', from: '-1h', by: 'gate' });
  const of = (answer: MetricAnswer): number =>
    answer.lines.find(({ labels }) => labels[0] === first?.labels[0])?.all ?? Number.NaN;
  expect(first?.all).toBeCloseTo(of(late) / of(all), 9);
  expect((await put('quay.wait.max - quay.wait.min')).whole.all).toBeCloseTo(9, 6);
});

test('what cannot be put together is refused in words', async () => {
  const refused = (expression: string, more: object = {}) =>
    put(expression, more).catch((error: Error) => error.message);
  expect(await refused('quay.al / 2')).toMatch('there is no metric quay.al; did you mean quay.all?');
  expect(await refused('quay.late / quay.all', { by: 'lane' })).toMatch('Not all of these metrics are kept by lane');
  expect(await refused('quay.all /')).toMatch('expected');
  expect(await refused('quay.all', { from: 'now', to: '-1h' })).toMatch('ends before it begins');
  expect((await put('quay.all / (quay.all - quay.all)')).whole.all).toBeNull();
});
