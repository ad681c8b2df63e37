import { afterAll, afterEach, beforeAll, describe, expect, inject, test } from 'vitest';
import { send, startEngine, type TestEngine } from '#engine/testing/engine.ts';
import { freePort } from '#engine/testing/ports.ts';
import { handle } from '../_server/handle.ts';
import { ask, nowhere } from './testing/ask.ts';

const stageFigures = { GET: handle('stageFigures') };
const drift = { GET: handle('drift') };
const fields = { GET: handle('fields') };
const overview = { GET: handle('overview') };
const routing = { GET: handle('routing') };
const search = { POST: handle('search') };
const volume = { GET: handle('volume') };

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  Object.assign(process.env, engine.environment);
  await engine.publish({
    plan: 1,
    pipelines: [],
    tiers: [
      { id: 'errors', title: 'Errors', keep: '30d', when: 'severity >= error' },
      {
        id: 'rest',
        title: 'Rest',
        keep: '7d',
        when: 'source = gates',
        exclusions: [{ id: 'probes', title: 'Probes', when: 'path = /health', keep: 'none' }],
      },
    ],
  });
  await engine.source('gates');
  await engine.source('tides');
  const lines = Array.from({ length: 20 }, (_, i) => ({
    level: i < 4 ? 'error' : 'info',
    path: i < 10 ? '/scan' : '/health',
    took: i,
  }));
  await send(engine, 'gates', lines.map((line) => JSON.stringify(line)).join('\n'));
  await send(engine, 'tides', 'height 1.5');
  await engine.found({ tiers: ['errors', 'rest', 'passing'], limit: 0 }, 21);
});

afterAll(async () => {
  await engine.stop();
});

describe('where it all flows', () => {
  test('the figures of the stages are live, and say what needs someone', async () => {
    const figures = await (await stageFigures.GET(ask('/'), nowhere)).json();
    expect(figures).toMatchObject({ storedEvents: 21, needs: { sources: 0, parsing: 0 } });
    expect(figures.eventsPerSecond).toBeCloseTo(21 / 60, 3);
    expect(figures.parsedShare).toBeCloseTo(20 / 21, 5);
    expect(figures.revision).toBeGreaterThan(0);
  });

  test('the overview tells a day by source, tier and fate', async () => {
    const view = await (await overview.GET(ask('/'), nowhere)).json();
    expect(view).toMatchObject({ sources: 2, attention: [], parsedShare: expect.any(Number) });
    expect(view.arrived.events).toBe(21);
  });

  test('each tier tells what it received and what its exclusions took', async () => {
    const { tiers, passing, arrived } = await (await routing.GET(ask('/'), nowhere)).json();
    expect(arrived.events).toBe(21);
    expect(passing.events).toBe(1);
    expect(tiers).toMatchObject([
      { id: 'errors', kept: { events: 4 }, removed: { events: 0 }, holds: { events: 4 } },
      { id: 'rest', kept: { events: 6 }, exclusions: [{ id: 'probes', removed: { events: 10 } }] },
    ]);
  });

  test('the ledger is added up by what is asked for', async () => {
    const sums = async (query: string) => (await (await volume.GET(ask(`/api/volume?${query}`), nowhere)).json()).sums;
    expect(await sums('by=source')).toHaveLength(2);
    const outcomes = await sums('by=outcome&from=-1h');
    expect(
      Object.fromEntries(outcomes.map((sum: { outcome: string; events: number }) => [sum.outcome, sum.events])),
    ).toEqual({
      kept: 10,
      excluded: 10,
      passing: 1,
    });
    const minutes = await sums('by=&every=1m');
    expect(minutes.every(({ start }: { start: number }) => start % 60_000 === 0)).toBe(true);
    for (const query of ['from=whenever', 'by=outcome,nonsense', 'by=source;drop', 'every=1ns'])
      expect((await volume.GET(ask(`/api/volume?${query}`), nowhere)).status).toBe(400);
  });

  test('nothing has drifted yet', async () => {
    expect(await (await drift.GET(ask('/api/drift?source=gates'), nowhere)).json()).toEqual({ drifts: [] });
  });
});

describe('searching', () => {
  const post = (body: object, accept?: string): Promise<Response> => {
    const request = ask('/api/search', 'POST', { from: '-1h', to: 'now', ...body });
    if (accept) request.headers.set('accept', accept);
    return search.POST(request, nowhere);
  };

  test('counts, lists and summarises', async () => {
    const answer = await (await post({ condition: 'path = /scan', limit: 3, show: 'max(took) by level' })).json();
    expect(answer).toMatchObject({ total: 10, estimated: false });
    expect(answer.events).toHaveLength(3);
    const { rows } = (await (await post({ condition: 'source = gates', show: 'max(took) by path' })).json()).summary;
    expect(rows).toEqual([
      ['/health', 19],
      ['/scan', 9],
    ]);
  });

  test('with progress before the result, where that is asked for', async () => {
    const answer = await post({ condition: '' }, 'application/x-ndjson');
    expect(answer.headers.get('content-type')).toBe('application/x-ndjson');
    const lines = (await answer.text()).trim().split('\n');
    expect(JSON.parse(lines.at(-1) ?? '')).toMatchObject({ result: { total: 21 } });
  });

  test.each([
    [{ from: 'soon' }, 'soon is not a time'],
    [{ condition: 'path == 1' }, ''],
    [{ show: 'average(took)' }, ''],
    [{ from: 'now', to: '-1h' }, 'ends before it begins'],
  ])('%j is refused', async (body, detail) => {
    const answer = await post(body);
    expect(answer.status).toBe(400);
    expect((await answer.json()).detail).toContain(detail);
  });

  test('recent fields are offered for completion', async () => {
    const names = (await (await fields.GET(ask('/'), nowhere)).json()).fields.map(({ name }: { name: string }) => name);
    expect(names).toEqual(expect.arrayContaining(['path', 'took']));
  });
});

describe('where the engines are', () => {
  const reported = process.env;
  const port = (): string => engine.environment.ENGINE_PORT;

  afterEach(() => {
    reported.ENGINE_PORT = port();
  });

  test('whichever answers is asked', async () => {
    const nobody = await freePort();
    reported.ENGINE_PORT = `${nobody},${port()}`;
    for (let i = 0; i < 3; i++)
      expect(await (await stageFigures.GET(ask('/'), nowhere)).json()).toMatchObject({ storedEvents: 21 });
    reported.ENGINE_PORT = `${port()},${nobody}`;
    expect((await (await routing.GET(ask('/'), nowhere)).json()).arrived.events).toBe(21);
  });

  test('without any the pages say so', async () => {
    reported.ENGINE_PORT = String(await freePort());
    const answer = await search.POST(ask('/', 'POST', { from: '-1h', to: 'now' }), nowhere);
    expect([answer.status, (await answer.json()).title]).toEqual([503, 'The engine does not answer']);
    expect((await stageFigures.GET(ask('/'), nowhere)).status).toBe(503);
  });
});
