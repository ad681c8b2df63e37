import { parquetReadObjects } from 'hyparquet';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { DraftAnswer } from '#core/answers/plan.ts';
import type {
  EventAnswer,
  SavedSearchesAnswer,
  SavedSearchView,
  SearchAnswer,
  WhyEmptyAnswer,
} from '#core/answers/search.ts';
import { send, startEngine, type TestEngine } from '../../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('gates');
  const lines = Array.from({ length: 60 }, (_, i) => `{"msg":"ticket ${i} passes","lane":"${i % 3}","wait":${i}}`);
  await send(engine, 'gates', lines.join('\n'));
});

afterAll(() => engine.stop());

const search = { name: 'slow-lane', condition: 'lane = 1 wait > 30', window: '-2h' };

test('a saved search can be named in conditions, and changing it changes what they find', async () => {
  const saved = await engine.ask<SavedSearchView>('saveSearch', search);
  expect(saved).toMatchObject({ ...search, summary: '', owner: '', version: 1 });
  expect((await engine.search({ condition: 'saved:slow-lane' })).total).toBe(10);
  expect((await engine.search({ condition: 'source = gates not saved:slow-lane' })).total).toBe(50);
  await engine.ask('saveSearch', { ...search, condition: 'lane = 1 wait > 45', version: 1 });
  expect((await engine.search({ condition: 'saved:slow-lane' })).total).toBe(5);
  const { searches } = await engine.ask<SavedSearchesAnswer>('savedSearches');
  expect(searches).toMatchObject([{ name: 'slow-lane', version: 2 }]);
});

test('who changes an older state than there is, or names what is not there, is refused', async () => {
  await expect(engine.ask('saveSearch', { ...search, version: 1 })).rejects.toThrow('someone changed it meanwhile');
  await expect(engine.ask('saveSearch', { ...search, name: 'new', version: 3 })).rejects.toThrow('no longer saved');
  await expect(engine.search({ condition: 'saved:slow-lain' })).rejects.toThrow('saved:slow-lane');
  const wrong = (condition: string) => engine.ask('saveSearch', { ...search, name: 'wrong', condition });
  await expect(wrong('saved:wrong')).rejects.toThrow('stands for itself');
  await expect(wrong('lane == 2')).rejects.toThrow('expected an operator');
  await expect(engine.ask('saveSearch', { ...search, name: 'Night errors' })).rejects.toThrow('lower-case letters');
  await expect(engine.ask('saveSearch', { ...search, name: 'x', window: 'banana' })).rejects.toThrow('like -2h');
});

test('a draft holds what the saved search stood for', async () => {
  await engine.saveDraft({
    plan: 1,
    pipelines: [],
    tiers: [
      { id: 'slow', title: 'Slow', when: 'saved:slow-lane or lane = 2', keep: '2d' },
      { id: 'rest', title: 'Everything', keep: '7d' },
    ],
  });
  const draft = await engine.ask<DraftAnswer>('draft');
  expect(draft.plan.tiers[0]?.when).toBe('(lane = 1 wait > 45) or lane = 2');
  expect(draft.problems).toEqual([]);
});

test('an event is found again by its id, with the record that it came from', async () => {
  const { events } = await engine.search({ condition: 'lane = 2', limit: 1 });
  const [event] = events as SearchAnswer['events'];
  if (!event) throw new Error('nothing was found');
  const answer = await engine.ask<EventAnswer>('event', { id: event.id });
  expect(answer.event).toEqual(event);
  expect(answer.origin).toMatchObject({ tier: { id: event.tier }, pipelines: [] });
  expect(answer.origin.raw).toContain('"msg":"ticket');
  const [time] = event.id.split('-');
  await expect(engine.ask('event', { id: `${time}-00000000` })).rejects.toThrow('It is not stored');
});

test('everything that is found is written out, and what is wrong is refused before anything is', async () => {
  const ask = async (input: object): Promise<Response> =>
    await fetch(`${engine.api}/operations/exportEvents`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        authorization: `Bearer ${engine.environment.ENGINE_SECRET}`,
      },
      body: JSON.stringify({ from: '-1h', to: '+1h', ...input }),
    });
  const answer = await ask({ condition: 'not saved:slow-lane', format: 'ndjson' });
  expect(answer.headers.get('content-disposition')).toContain('events.ndjson');
  const lines = (await answer.text()).trimEnd().split('\n');
  expect(lines.length).toBe(55);
  expect(JSON.parse(lines[0] ?? '')).toMatchObject({ source: 'gates', attributes: { wait: expect.any(Number) } });
  const csv = (await (await ask({ condition: 'lane = 2', format: 'csv' })).text()).split('\r\n');
  expect(csv[0]).toBe('time,received,source,emitter,tier,severity,weight,raw_bytes,body,lane,wait');
  expect(csv.length).toBe(20 + 2);
  const parquet = await ask({ condition: 'lane = 2', format: 'parquet', with: 'ticket {nr:int} passes' });
  const rows = await parquetReadObjects({ file: await parquet.arrayBuffer() });
  expect(rows.length).toBe(20);
  expect(rows[0]).toMatchObject({ lane: '2', nr: expect.any(Number), time: expect.any(Date) });
  expect((await ask({ condition: 'lane ==' })).status).toBe(400);
  expect((await ask({ from: 'banana' })).status).toBe(400);
});

test('an empty answer has its reasons, also for a window from the beginning', async () => {
  const why = (input: object) => engine.ask<WhyEmptyAnswer>('whyEmpty', { to: '+1h', ...input });
  const asked = { condition: 'source = gates lane = nowhere' };
  expect(await why({ ...asked, from: 0 })).toEqual({ arrived: 60, reasons: [], isLookedThrough: true });
  const later = await why({ condition: 'lane = 2', from: '+30m' });
  expect(later).toMatchObject({ arrived: 0, isLookedThrough: true });
  expect(later.lastFound).toBeLessThanOrEqual(Date.now());
});

test('once it is removed, nothing stands for it', async () => {
  await engine.ask('removeSearch', { name: 'slow-lane' });
  await expect(engine.search({ condition: 'saved:slow-lane' })).rejects.toThrow('no search is saved as slow-lane');
});

test('of searches that are saved at once and name each other in a circle, one is refused', async () => {
  const of = (name: string, condition: string, version: number) =>
    engine.ask<SavedSearchView>('saveSearch', { ...search, name, condition, version });
  for (let round = 0; round < 10; round++) {
    const [one, other] = [`one-${round}`, `other-${round}`];
    await Promise.all([of(one, 'lane = 1', 0), of(other, 'lane = 2', 0)]);
    const done = await Promise.allSettled([of(one, `saved:${other}`, 1), of(other, `saved:${one}`, 1)]);
    expect(done.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
    expect((await engine.search({ condition: `saved:${one}` })).total).toBe(20);
  }
});

test('many changes at once are all made, though there are fewer connections to the store', async () => {
  const names = Array.from({ length: 40 }, (_, n) => `fleet-${n}`);
  await Promise.all(names.map((name) => engine.ask('saveFleet', { name, condition: 'site = p1' })));
  const { fleets } = await engine.ask<{ readonly fleets: readonly object[] }>('fleets');
  expect(fleets).toHaveLength(names.length);
});
