import { afterAll, beforeAll, expect, inject, test, vi } from 'vitest';
import type { ShapesAnswer } from '#core/answers/shapes.ts';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import type { UsageAnswer, UsageByNameAnswer } from '#core/answers/usage.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { day } from '#core/events/time-units.ts';
import { decidedSuggestions } from '#store/people/suggestion-decisions.ts';
import { addUsage, expireUsage, questionsSince } from '#store/people/usage.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

const window = { from: '-1h', to: 'now' };
let engine: TestEngine;

const lines = (word: string): string => Array.from({ length: 60 }, (_, i) => `${word} ${i} passed the gate\n`).join('');

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  for (const source of ['gates', 'tides', 'notices']) await engine.source(source);
  await engine.publish({
    plan: 1,
    pipelines: [],
    tiers: [
      { id: 'doors', title: 'Doors', when: 'source = gates', keep: '7d' },
      { id: 'rest', title: 'Rest', keep: '7d' },
    ],
  });
  for (const source of ['gates', 'tides', 'notices'])
    expect((await send(engine, source, lines(source))).status).toBe(200);
  await engine.found({ condition: '', limit: 0 }, 180);
  const shapes = async (): Promise<number> => (await engine.ask<ShapesAnswer>('shapes')).shapes.length;
  await vi.waitFor(async () => expect(await shapes()).toBe(3), { timeout: 20_000, interval: 100 });
});

afterAll(() => engine.stop());

async function timesOf(kind: string, name: string): Promise<Readonly<Record<string, number>>> {
  const { readings } = await engine.ask<UsageAnswer>('usage', { kind, name });
  return Object.fromEntries(readings.map(({ reading, times }) => [reading, times]));
}

test('nothing is recorded of searches in the background', async () => {
  expect(await engine.ask<UsageAnswer>('usage', { kind: 'source', name: 'gates' })).toEqual({
    ...{ since: null, readings: [], oldestAge: null },
  });
});

test('a search counts for the events that it shows, a summary for all that it counts', async () => {
  await engine.ask('search', { condition: 'source = gates', ...window, limit: 5 });
  await engine.ask('search', {
    condition: 'source in (gates, tides)',
    ...window,
    limit: 0,
    show: 'count() by port',
  });
  expect(await timesOf('source', 'gates')).toEqual({ search: 1, summary: 1 });
  expect(await timesOf('source', 'tides')).toEqual({ summary: 1 });
  expect(await timesOf('tier', 'doors')).toEqual({ search: 1, summary: 1 });
  expect(await timesOf('field', 'port')).toEqual({ summary: 1 });
  expect(await timesOf('source', 'notices')).toEqual({});
  const { things } = await engine.ask<UsageByNameAnswer>('usageByName', { kind: 'source' });
  expect(things.map(({ name, times }) => [name, times])).toEqual([
    ['gates', 2],
    ['tides', 1],
  ]);
  const { since, oldestAge } = await engine.ask<UsageAnswer>('usage', { kind: 'source', name: 'gates' });
  expect(since).toBe(dayOf(Date.now()) * day);
  expect(oldestAge).toBeLessThan(day);
});

test('an explanation and an export count for all that they read', async () => {
  await engine.ask('why', { condition: 'source = tides', ...window });
  const body = JSON.stringify({ condition: 'source = tides', ...window });
  const exported = await fetch(`${engine.api}/operations/exportEvents`, {
    ...{ method: 'POST', body },
    headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
  });
  expect((await exported.text()).trim().split('\n')).toHaveLength(60);
  expect(await timesOf('source', 'tides')).toMatchObject({ why: 1, export: 1 });
  const questions = await questionsSince(engine.database.db, 0, 10);
  expect(questions).toContain('source = tides');
});

test('lines that nothing reads are suggested after a week, but not what anybody asked for, put off or refused', async () => {
  const suggested = async (): Promise<readonly string[]> =>
    (await engine.ask<SuggestionsAnswer>('suggestions')).suggestions.flatMap(({ sources }) => sources).sort();
  expect(await suggested()).toEqual([]);
  const old = { kind: 'source', name: 'gates', reading: 'search', times: 1, lastAt: 0, oldestAge: 0 } as const;
  await addUsage(engine.database.db, dayOf(Date.now()) - 10, { things: [old], questions: [] });
  await expect.poll(suggested, { timeout: 20_000 }).toEqual(['notices']);

  const { suggestions } = await engine.ask<SuggestionsAnswer>('suggestions');
  const id = suggestions[0]?.shape ?? '';
  const decide = (given: object): Promise<object> => engine.ask('decideSuggestion', { id, ...given });
  await expect(decide({ decision: 'refuse' })).rejects.toThrow(/needs a reason/);
  await expect(decide({ id: 'nothing00', decision: 'put off' })).rejects.toThrow(/no shape/);
  await decide({ decision: 'refuse', reason: 'the harbour master reads them' });
  expect(await suggested()).toEqual([]);
  const { decided } = await engine.ask<SuggestionsAnswer>('suggestions');
  expect(decided).toMatchObject([{ id, until: null, reason: 'the harbour master reads them' }]);
  await decide({ decision: 'put off', days: 2 });
  expect((await engine.ask<SuggestionsAnswer>('suggestions')).decided).toMatchObject([{ until: expect.any(Number) }]);
  expect((await decidedSuggestions(engine.database.db, Date.now() + 3 * day)).length).toBe(0);
  await decide({ decision: 'reopen' });
  expect(await suggested()).toEqual(['notices']);

  // More shapes were read than are counted: this one may be among them.
  const beyond = { kind: 'shape', name: '', reading: 'search', times: 1, lastAt: 0, oldestAge: 0 } as const;
  await addUsage(engine.database.db, dayOf(Date.now()), { things: [beyond], questions: [] });
  expect(await suggested()).toEqual([]);
  await expireUsage(engine.database.db, dayOf(Date.now()) + 1);
  await addUsage(engine.database.db, dayOf(Date.now()) - 10, { things: [old], questions: [] });
  await expect.poll(suggested, { timeout: 20_000 }).toEqual(['gates', 'notices', 'tides']);

  // A line in a result, and a question without lines.
  await engine.ask('search', { condition: '', ...window, tiers: ['doors'], limit: 1 });
  expect(await suggested()).toEqual(['notices', 'tides']);
  await engine.ask('search', { condition: 'source = notices', ...window, limit: 0 });
  expect(await suggested()).toEqual(['tides']);
});
