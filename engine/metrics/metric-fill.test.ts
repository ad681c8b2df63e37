import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { MetricAnswer } from '#core/answers/metrics.ts';
import { hour } from '#core/events/time-units.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';
import { sendSurely } from '../testing/surely.ts';

let one: TestEngine;
let two: TestEngine;

beforeAll(async () => {
  one = await startEngine(inject('mariadb'));
  two = await startEngine(inject('mariadb'), one);
  await one.source('quay');
}, 60_000);

afterAll(async () => {
  await Promise.all([one?.stop(), two?.stop()]);
});

const withMetric: PlanDocument = {
  ...firstPlan,
  metrics: [
    { id: 'lifts', name: 'quay.lifts', when: 'has n', measure: 'count', by: [{ field: 'crane' }] },
    { id: 'sums', name: 'quay.sums', when: 'has n', measure: 'sum', of: 'n' },
  ],
};

const pick = <Item>(list: readonly Item[]): Item => list[Math.floor(Math.random() * list.length)] as Item;
const read = (id: string, more: object = {}): Promise<MetricAnswer> =>
  pick([one, two]).ask<MetricAnswer>('metric', { id, from: '-30h', to: 'now', ...more });

test('a metric is filled in from what was stored before it began, once, through kills of engines', async () => {
  const sent: { readonly n: number; readonly crane: string }[] = [];
  const send = async (from: number, hoursAgo: readonly number[]): Promise<void> => {
    for (const [i, ago] of hoursAgo.entries()) {
      const at = Date.now() - ago * hour;
      const events = Array.from({ length: 60 }, (_, k) => ({ n: from + i * 60 + k, crane: `c${k % 4}` }));
      sent.push(...events);
      const body = events
        .map((event, k) => JSON.stringify({ time: new Date(at + k * 1_000).toISOString(), ...event }))
        .join('\n');
      await sendSurely(() => pick([one, two]), { source: 'quay', body, at, key: `${from} ${i}` });
    }
  };
  await send(0, [26, 20, 13, 5, 5, 2, 0.1]);
  await one.publish(withMetric);
  await two.refresh();
  // What comes late counts by itself.
  await send(10_000, [20, 5, 0.05]);
  await expect.poll(async () => (await read('lifts')).whole.all, { timeout: 30_000 }).toBe(180);
  expect((await read('lifts')).fill).toBeNull();

  await one.ask('fillMetric', { id: 'lifts' });
  await one.ask('fillMetric', { id: 'sums' });
  for (let i = 0; i < 3; i++) {
    const engine = pick([one, two]);
    await engine.kill();
    await engine.restart();
  }
  await expect.poll(async () => (await read('lifts')).fill?.isDone, { timeout: 60_000 }).toBe(true);
  await expect.poll(async () => (await read('sums')).fill?.isDone, { timeout: 60_000 }).toBe(true);
  await expect.poll(async () => (await read('lifts')).whole.all, { timeout: 30_000 }).toBe(sent.length);
  const total = sent.reduce((sum, { n }) => sum + n, 0);
  await expect.poll(async () => (await read('sums')).whole.all, { timeout: 30_000 }).toBe(total);
  const { lines, begun, fill } = await read('lifts', { by: 'crane' });
  expect(lines.map(({ all }) => all)).toEqual([0, 1, 2, 3].map(() => sent.length / 4));
  expect(fill?.from).toBeLessThan((begun ?? 0) - 25 * hour);

  const again = await one.ask('fillMetric', { id: 'lifts' }).catch((error: Error) => error.message);
  expect(again).toMatch('filled in already');
  const unknown = await one.ask('fillMetric', { id: 'nothing' }).catch((error: Error) => error.message);
  expect(unknown).toMatch('no metric of this id');
}, 150_000);
