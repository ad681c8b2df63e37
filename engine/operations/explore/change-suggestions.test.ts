import { afterAll, beforeAll, expect, inject, test, vi } from 'vitest';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { day, hour } from '#core/events/time-units.ts';
import { addUsage } from '#store/people/usage.ts';
import { send, startEngine, type TestEngine } from '../../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
});

afterAll(() => engine.stop());

const changes = async () => (await engine.ask<SuggestionsAnswer>('suggestions')).changes;

test('fields that nothing uses may be left out, until their source is exported', async () => {
  await engine.source('piers');
  const now = Date.now();
  const lines = Array.from({ length: 5 * 24 }, (_, i) => {
    const time = new Date(now - (i + 1) * hour).toISOString();
    return JSON.stringify({ time, message: 'ferry at berth', berth: i % 4, crew: `c${i % 3}`, note: `all ${i} well` });
  });
  const headers = { 'otter-backfill': new Date(now - 6 * day).toISOString() };
  expect((await send(engine, 'piers', lines.join('\n'), headers)).status).toBe(200);
  const used = { kind: 'field', name: 'Berth', reading: 'search', times: 3, lastAt: now, oldestAge: hour } as const;
  await addUsage(engine.database.db, dayOf(now) - 10, { things: [used], questions: [] });
  await engine.ask('saveSearch', { name: 'crews', condition: 'source = piers has crew', window: '-2h' });
  const entry = '{ from: 2020-01-01, stored: 1000000000 }';
  await engine.ask('savePrices', { text: `prices: 1\ncurrency: { sign: cr, digits: 2 }\nentries: [${entry}]` });
  await vi.waitUntil(async () => (await changes()).length > 0, { timeout: 20_000 });
  const [change, ...others] = await changes();
  expect(others).toEqual([]);
  expect(change).toMatchObject({ id: 'fields:piers', edit: { source: 'piers', fields: ['note'] } });
  expect(change?.coins).toBeGreaterThan(0);
  await engine.ask('decideSuggestion', { id: 'fields:piers', decision: 'put off' });
  expect(await changes()).toEqual([]);
  await engine.ask('decideSuggestion', { id: 'fields:piers', decision: 'reopen' });
  expect(await changes()).toHaveLength(1);
  const read = { ...used, kind: 'source', name: 'piers', reading: 'export' } as const;
  await addUsage(engine.database.db, dayOf(now), { things: [read], questions: [] });
  expect(await changes()).toEqual([]);
});
