import { afterAll, beforeAll, expect, inject, test, vi } from 'vitest';
import type { CostMonthAnswer, CostsAnswer } from '#core/answers/costs.ts';
import type { MetricsAnswer } from '#core/answers/metrics.ts';
import { dayOf, monthOf } from '#core/costs/month/calendar.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { seriesByDay } from '#store/metrics/metric-days.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { noteSeriesOfToday } from './metric-days.ts';
import { expireMetrics } from './metric-roll-ups.ts';

let engine: TestEngine;

const rides = { id: 'rides', name: 'gates.rides', when: '', measure: 'count', by: [{ field: 'port' }] } as const;
const counted: PlanDocument = { ...firstPlan, metrics: [rides, { ...rides, id: 'all', name: 'gates.all', by: [] }] };

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('gates');
  await engine.publish(counted);
  await send(engine, 'gates', Array.from({ length: 40 }, (_, i) => `{"port":"p${i % 4}"}`).join('\n'));
  const series = async (): Promise<number> => (await engine.ask<MetricsAnswer>('metrics')).series;
  await vi.waitUntil(async () => (await series()) === 5, { timeout: 20_000 });
});

afterAll(() => engine.stop());

test('a day counts with the most series that it had', async () => {
  const now = Date.now();
  const today = async (): Promise<number | undefined> => (await seriesByDay(engine.database.db)).get(dayOf(now));
  await noteSeriesOfToday(engine.database, counted, now - 1_000 * 86_400_000);
  await noteSeriesOfToday(engine.database, counted, now);
  expect(await today()).toBe(5);
  await noteSeriesOfToday(engine.database, { ...counted, metrics: [] }, now);
  expect(await today()).toBe(5);
  // What is older than costs reach is forgotten.
  await expireMetrics(engine.database, counted, now);
  expect((await seriesByDay(engine.database.db)).has(dayOf(now) - 1_000)).toBe(false);
});

test('series are a part of the month and of the row that has no source, and of no team', async () => {
  const text = 'prices: 1\ncurrency: { sign: cr, digits: 2 }\nentries:\n  - { from: 2020-01-01, series: 600 }\n';
  await engine.ask('savePrices', { text });
  const month = monthOf(dayOf(Date.now()));
  const coins = Math.round((5 * 600 * 100) / (month.to - month.from));
  expect((await engine.ask<CostMonthAnswer>('costMonth')).spent).toBe(coins);
  const costs = await engine.ask<CostsAnswer>('costs', { by: 'source' });
  expect(costs.all).toEqual({ received: 0, kept: 0, stored: 0, series: coins, whole: coins });
  expect(costs.rows).toMatchObject([{ keys: [''], series: coins, whole: coins }]);
  expect((await engine.ask<CostsAnswer>('costs', { by: 'source', team: 'sea' })).rows).toEqual([]);
  // A month of what there is now, as the page of metrics tells it.
  expect((await engine.ask<MetricsAnswer>('metrics')).coins).toBe(5 * 600 * 100);
});
