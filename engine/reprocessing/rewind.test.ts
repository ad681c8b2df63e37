import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { MetricAnswer } from '#core/answers/metrics.ts';
import { hour } from '#core/events/time-units.ts';
import { findRewind, saveRewind } from '#store/sources/rewinds.ts';
import { listSources, saveSource } from '#store/sources/sources.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;
// Rejects are kept for a week.
const at = Math.floor(Date.now() / 3_600_000 - 24) * 3_600_000;
const lines = 6;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  const folder = join(engine.folder, 'wharf');
  mkdirSync(folder);
  const text = Array.from({ length: lines }, (_, i) =>
    JSON.stringify({ time: new Date(at + i * hour).toISOString(), n: i, ...(i === 5 && { bad: 'x' }) }),
  );
  writeFileSync(join(folder, 'a.log'), `${text.join('\n')}\n`);
  await engine.publish({
    plan: 1,
    pipelines: [
      {
        id: 'p',
        title: 'P',
        when: 'source = wharf',
        steps: [{ convert: { field: 'bad', to: 'number' }, when: 'has bad', 'on-failure': 'reject' }],
      },
    ],
    tiers: [{ id: 'rest', title: 'Rest', keep: '30d' }],
    metrics: [{ id: 'all', name: 'all', when: 'source = wharf', measure: 'count' }],
  });
  await engine.source('wharf', { kind: 'files', settings: { globs: [join(folder, '*.log')] } });
  await engine.found({ condition: 'source = wharf', limit: 0 }, lines);
});

afterAll(() => engine.stop());

async function stored(): Promise<readonly number[]> {
  const { events } = await engine.found({ condition: 'source = wharf' }, lines);
  return events.map(({ attributes }) => Number(attributes.n)).sort();
}

const all = [0, 1, 2, 3, 4, 5];

test('to a time and then to the start: nothing is doubled, and nothing passed over for ever', async () => {
  expect(await stored()).toEqual(all);
  // What is before the time stays as it is; a reject stays a reject.
  expect(await engine.ask('rewind', { name: 'wharf', from: new Date(at + 2 * hour).toISOString() })).toEqual({
    removed: 4,
  });
  expect(await stored()).toEqual(all);
  expect((await engine.search({ condition: 'source = wharf', tiers: ['rejects'] })).total).toBe(1);
  expect(await engine.ask('rewind', { name: 'wharf', from: '' })).toEqual({ removed: 6 });
  expect(await stored()).toEqual(all);
  // Metrics counted them when they were read first.
  const counted = async () => (await engine.ask<MetricAnswer>('metric', { id: 'all', from: '-3d' })).whole.all;
  await expect.poll(counted, { timeout: 10_000 }).toBe(lines);
});

test('what a source is set to meanwhile stays', async () => {
  const rewinding = engine.ask('rewind', { name: 'wharf', from: '' });
  const [source] = (await listSources(engine.database)).filter(({ name }) => name === 'wharf');
  if (source) await saveSource(engine.database.db, { ...source, owner: 'the harbour office' });
  await rewinding;
  expect((await listSources(engine.database)).find(({ name }) => name === 'wharf')?.owner).toBe('the harbour office');
  expect(await stored()).toEqual(all);
});

test('one that was interrupted is taken up where it stood', async () => {
  await engine.kill();
  const requestedAt = Date.now();
  await saveRewind(engine.database.db, { source: 'wharf', from: 0, requestedAt, step: 'cutting', removed: 2 });
  await engine.restart();
  await expect.poll(async () => (await findRewind(engine.database, 'wharf'))?.step, { timeout: 20_000 }).toBe('done');
  expect(await stored()).toEqual(all);
});
