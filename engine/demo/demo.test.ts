import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { getTableColumns, inArray, is } from 'drizzle-orm';
import { type MySqlColumn, MySqlTable } from 'drizzle-orm/mysql-core';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { DemoAnswer } from '#core/answers/demo.ts';
import type { PlanAnswer } from '#core/answers/plan.ts';
import type { SourcesAnswer } from '#core/answers/sources.ts';
import * as schema from '#store/schema.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  process.env.DEMO_PAST = '2h';
  engine = await startEngine(inject('mariadb')).finally(() => delete process.env.DEMO_PAST);
});

afterAll(() => engine.stop());

const stateIs = (state: DemoAnswer['state']) =>
  expect.poll(async () => (await engine.ask<DemoAnswer>('demo')).state, { timeout: 90_000, interval: 200 }).toBe(state);

const sourceNames = async (): Promise<readonly string[]> =>
  (await engine.ask<SourcesAnswer>('sources')).sources.map(({ name }) => name);

/** Rows of these sources, by table. Shapes are left out, as other sources may share them. */
async function rowsOf(sources: readonly string[]): Promise<ReadonlyMap<string, number>> {
  const rows = new Map<string, number>();
  for (const [name, table] of Object.entries(schema)) {
    if (!is(table, MySqlTable) || name === 'shapes') continue;
    const columns: Readonly<Record<string, MySqlColumn>> = getTableColumns(table);
    if (!columns.source) continue;
    const found = await engine.database.db.$count(table, inArray(columns.source, [...sources]));
    if (found > 0) rows.set(name, found);
  }
  return rows;
}

test('a source with a name that the demo needs is left alone, and the problem is shown', async () => {
  await engine.source('gates');
  await engine.ask('loadDemo');
  const problem = async (): Promise<string> => (await engine.ask<DemoAnswer>('demo')).problem;
  await expect.poll(problem, { timeout: 30_000 }).toBe('There is a source gates already.');
  await engine.ask('removeDemo');
  await stateIs('absent');
  expect(await sourceNames()).toEqual(['gates']);
  await engine.ask('removeSource', { name: 'gates' });
});

test('the demo data is loaded, keeps sending after a restart, and is removed without a trace', async () => {
  await engine.source('dock-radio');
  expect(await engine.ask<DemoAnswer>('demo')).toMatchObject({ state: 'absent', share: 0, obstacle: '' });
  await engine.ask('loadDemo');
  await expect(engine.ask('loadDemo')).rejects.toThrow('has the demo data already');
  await stateIs('loaded');
  const demo = (await sourceNames()).filter((name) => name !== 'dock-radio');
  expect(demo.length).toBeGreaterThan(12);
  expect((await engine.search({})).total).toBeGreaterThan(1_000);
  expect((await engine.ask<PlanAnswer>('plan')).plan.tiers.length).toBeGreaterThan(3);

  // It keeps sending after a restart. An event of another source lands in a tier of the demo's plan.
  await engine.close();
  await engine.restart();
  const before = (await engine.search({})).total;
  await engine.found({}, before + 1);
  await send(engine, 'dock-radio', '{"level":"error","msg":"antenna iced over"}');
  expect((await engine.search({ condition: 'source = dock-radio', tiers: ['incidents'] })).total).toBe(1);

  await engine.ask('removeDemo');
  await stateIs('absent');
  expect(await sourceNames()).toEqual(['dock-radio']);
  expect(await rowsOf(demo)).toEqual(new Map());
  expect((await engine.search({})).events.map(({ body }) => body)).toEqual(['antenna iced over']);
  const { plan } = await engine.ask<PlanAnswer>('plan');
  expect(plan.pipelines).toEqual([]);
  expect(plan.metrics ?? []).toEqual([]);
  expect(plan.tiers.map(({ id }) => id)).toEqual(['incidents', 'rest']);
  const { fleets, priceBooks, metrics, metricSeries, metricChunks, rankings, talkerSketches } = schema;
  const brought = { fleets, priceBooks, metrics, metricSeries, metricChunks, rankings, talkerSketches };
  const left = Object.entries(brought).map(async ([name, table]) => [name, await engine.database.db.$count(table)]);
  expect(await Promise.all(left)).toEqual(Object.keys(brought).map((name) => [name, 0]));
  expect(existsSync(join(engine.folder, 'files', 'demo'))).toBe(false);
  await expect(engine.ask('removeDemo')).rejects.toThrow('no demo data');
  expect((await engine.ask<DemoAnswer>('demo')).obstacle).toBe('Events of other sources have arrived already.');
}, 180_000);
