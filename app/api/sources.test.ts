import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { startEngine, type TestEngine } from '#engine/testing/engine.ts';
import { handle } from '../_server/handle.ts';
import { ask, named, nowhere } from './testing/ask.ts';

const emitters = { GET: handle('emitterVolumes'), PUT: handle('planEmitter') };
const fleets = { GET: handle('fleets'), PUT: handle('saveFleet'), DELETE: handle('removeFleet') };
const health = { GET: handle('health') };
const maintenance = {
  GET: handle('maintenance'),
  POST: handle('announceMaintenance'),
  DELETE: handle('removeMaintenance'),
};
const heard = { GET: handle('heard') };
const rehearsal = { POST: handle('rehearseAgain') };
const rewind = { POST: handle('rewind') };
const source = { GET: handle('source'), PUT: handle('changeSource'), DELETE: handle('removeSource') };
const scrub = { POST: handle('scrubTape') };
const tokens = { POST: handle('addToken'), DELETE: handle('endToken') };
const upload = { POST: handle('upload') };
const sources = { GET: handle('sources'), POST: handle('makeSource') };
const tape = { GET: handle('tape') };

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  Object.assign(process.env, engine.environment);
});

afterAll(async () => {
  await engine.stop();
});

async function make(body: object): Promise<Response> {
  return await sources.POST(ask('/api/sources', 'POST', body), nowhere);
}

async function one(name: string) {
  return await (await source.GET(ask(`/api/sources/${name}`), named(name))).json();
}

/** Sends lines to a source with a token; the status of the answer. */
async function sent(name: string, token: string, lines: string): Promise<number> {
  const headers = { authorization: `Bearer ${token}` };
  return (await fetch(`${engine.intake}/intake/${name}`, { method: 'POST', headers, body: lines })).status;
}

describe('a source', () => {
  test('is made with a token that works at once, and in the list with what it sends', async () => {
    const made = await make({ name: 'kiosks', kind: 'http', owner: 'harbour', labels: { site: 'pier-1' } });
    expect(made.status).toBe(201);
    const { token } = await made.json();
    expect(await sent('kiosks', token, '{"host":"kiosk-1","msg":"a"}\n{"host":"kiosk-2","msg":"b"}')).toBe(200);
    await engine.found({ condition: 'source = kiosks' }, 2);
    const { sources: list } = await (await sources.GET(ask('/'), nowhere)).json();
    expect(list).toMatchObject([
      {
        name: 'kiosks',
        owner: 'harbour',
        labels: { site: 'pier-1' },
        day: { events: 2 },
        parsedShare: 1,
        emitters: { all: 2, silent: 0, late: 0, fresh: 2 },
        health: { state: 'new' },
      },
    ]);
    expect(list[0].spark).toHaveLength(23);
    expect(JSON.stringify(await one('kiosks'))).not.toContain(token);
  });

  test('needs a name that is free and can be read, a kind, and settings that are right', async () => {
    expect((await make({ name: 'kiosks', kind: 'http' })).status).toBe(409);
    const wrong = await make({ name: 'Kiosk 1', kind: 'pigeon', accepts: 'app =', labels: { 'a b': 'c' } });
    expect(wrong.status).toBe(400);
    const { detail } = await wrong.json();
    for (const part of ['lower-case letters', 'kind', 'the condition is wrong', 'labels are short texts'])
      expect(detail).toContain(part);
    expect((await source.GET(ask('/api/sources/none'), named('none'))).status).toBe(404);
  });

  test('is changed part by part; what is not given stays', async () => {
    const put = (body: object): Promise<Response> =>
      source.PUT(ask('/api/sources/kiosks', 'PUT', body), named('kiosks'));
    expect((await put({ settings: { masks: [{ find: 'email', with: 'hash' }] } })).status).toBe(200);
    expect((await put({ owner: 'quay', settings: { retired: true } })).status).toBe(200);
    expect((await put({ settings: { retired: false } })).status).toBe(200);
    expect((await one('kiosks')).source).toMatchObject({
      owner: 'quay',
      labels: { site: 'pier-1' },
      settings: { masks: [{ find: 'email', with: 'hash' }], retired: false },
    });
    expect((await put({ settings: { masks: [{ find: 'faces', with: 'hash' }] } })).status).toBe(400);
    expect((await source.PUT(ask('/', 'PUT', {}), named('none'))).status).toBe(404);
  });

  test('of a name is made once, and two who change it at once both change it', async () => {
    const makers = await Promise.all([1, 2, 3].map(() => make({ name: 'turnstiles', kind: 'http' })));
    expect(makers.map(({ status }) => status).sort()).toEqual([201, 409, 409]);
    const change = (body: object) =>
      source.PUT(ask('/api/sources/turnstiles', 'PUT', body), named('turnstiles')).then(({ status }) => status);
    const changes = [{ owner: 'piers' }, { labels: { site: 'pier-2' } }, { settings: { retired: true } }];
    expect(await Promise.all(changes.map(change))).toEqual([200, 200, 200]);
    expect((await one('turnstiles')).source).toMatchObject({
      ...{ owner: 'piers', labels: { site: 'pier-2' }, settings: { retired: true } },
    });
  });

  test('its tape is shown and scrubbed by masks that came later', async () => {
    const { token } = await (await make({ name: 'desk', kind: 'http' })).json();
    await sent('desk', token, 'ticket for anna@skerry.example');
    await engine.found({ condition: 'source = desk' }, 1);
    const lines = async (): Promise<string> =>
      (await (await tape.GET(ask('/api/tape?source=desk&limit=5'), nowhere)).json()).lines[0].raw;
    expect(await lines()).toContain('anna@skerry.example');
    await source.PUT(ask('/', 'PUT', { settings: { masks: [{ find: 'email', with: 'remove' }] } }), named('desk'));
    expect(await (await scrub.POST(ask('/', 'POST'), named('desk'))).json()).toEqual({ changed: 1 });
    expect(await lines()).not.toContain('anna@');
  });

  test('an uploaded sample is read at its own times', async () => {
    await make({ name: 'samples', kind: 'upload' });
    const at = new Date(Date.now() - 3_600_000).toISOString();
    const request = new Request('http://127.0.0.1:3000/?file=a.ndjson', {
      method: 'POST',
      body: `{"time":"${at}","msg":"one"}\n{"time":"${at}","msg":"two"}\n`,
    });
    expect(await (await upload.POST(request, named('samples'))).json()).toMatchObject({ accepted: 2 });
    const { events } = await engine.found({ condition: 'source = samples' }, 2);
    expect(events.map(({ time }) => time)).toEqual([Date.parse(at), Date.parse(at)]);
  });
});

describe('tokens', () => {
  test('are added, rotated with an overlap, and revoked', async () => {
    const { token: first } = await (await make({ name: 'rotating', kind: 'http' })).json();
    const post = (body?: object): Promise<Response> => tokens.POST(ask('/', 'POST', body), named('rotating'));
    const hint = first.slice(-4);
    const [{ id }] = (await one('rotating')).tokens;
    const rotated = await post({ replaces: id, overlap: 60_000 });
    expect(rotated.status).toBe(201);
    const { token: second } = await rotated.json();
    expect(await sent('rotating', first, 'a')).toBe(200);
    expect(await sent('rotating', second, 'b')).toBe(200);
    const listed = (await one('rotating')).tokens;
    expect(listed.map(({ hint: each }: { hint: string }) => each).sort()).toEqual([hint, second.slice(-4)].sort());
    expect(listed.find((each: { hint: string }) => each.hint === hint).expiresAt).toBeGreaterThan(Date.now());
    await tokens.DELETE(ask('/', 'DELETE', { id }), named('rotating'));
    expect(await sent('rotating', first, 'c')).toBe(401);
    expect(await sent('rotating', second, 'd')).toBe(200);
  });

  test('that are asked for wrongly are not made', async () => {
    expect((await tokens.POST(ask('/', 'POST'), named('none'))).status).toBe(404);
    expect((await tokens.POST(ask('/', 'POST', { replaces: 'toolong' }), named('rotating'))).status).toBe(400);
    expect((await tokens.POST(ask('/', 'POST', { overlap: -1 }), named('rotating'))).status).toBe(400);
  });
});

describe('files that are read again', () => {
  test('are rehearsed without a trace, then rewound', async () => {
    const folder = join(engine.folder, 'wharf');
    mkdirSync(folder);
    writeFileSync(join(folder, 'a.log'), Array.from({ length: 50 }, (_, i) => `{"n":${i}}\n`).join(''));
    await make({ name: 'wharf', kind: 'files', settings: { globs: [join(folder, '*.log')] } });
    await engine.found({ condition: 'source = wharf' }, 50);
    const rehearsed = await rehearsal.POST(ask('/', 'POST', { from: '' }), named('wharf'));
    expect(await rehearsed.json()).toMatchObject({ taped: 50, kept: { live: { events: 50 }, draft: { events: 50 } } });
    expect((await engine.search({ condition: 'source = wharf' })).total).toBe(50);
    expect(await (await rewind.POST(ask('/', 'POST', { from: '' }), named('wharf'))).json()).toEqual({ removed: 50 });
    expect((await engine.found({ condition: 'source = wharf' }, 50)).total).toBe(50);
  });

  test('a source without files is run again from the tape, repeatedly', async () => {
    const { token } = await (await make({ name: 'ramp', kind: 'http' })).json();
    expect(await sent('ramp', token, '{"n":1}\n{"n":2}')).toBe(200);
    await engine.found({ condition: 'source = ramp' }, 2);
    for (let turn = 0; turn < 2; turn++) {
      const answer = await (await rehearsal.POST(ask('/', 'POST', { from: '-1h' }), named('ramp'))).json();
      expect(answer).toMatchObject({ taped: 2, kept: { live: { events: 2 }, draft: { events: 2 } } });
      expect(answer.sources).toHaveLength(1);
    }
    expect((await engine.search({ condition: 'source = ramp' })).total).toBe(2);
  });

  test('need a time that can be read', async () => {
    for (const route of [rehearsal, rewind]) {
      const answer = await route.POST(ask('/', 'POST', { from: 'yesterdayish' }), named('wharf'));
      expect(answer.status).toBe(400);
      expect((await answer.json()).detail).toContain('yesterdayish is not a time. Examples: -2h');
    }
  });
});

describe('emitters', () => {
  test('are listed by what they sent, largest first, and as heard by the hour', async () => {
    await expect
      .poll(async () => (await (await heard.GET(ask('/'), named('kiosks'))).json()).hours.at(-1), { timeout: 5_000 })
      .toMatchObject({ heard: 2, missing: 0 });
    const all = await (await health.GET(ask('/api/health?source=kiosks'), nowhere)).json();
    expect(all.followed.map(({ emitter }: { emitter: string }) => emitter).sort()).toEqual(['', 'kiosk-1', 'kiosk-2']);
  });

  test('are retired, or announced to come back', async () => {
    const put = (body: object): Promise<Response> => emitters.PUT(ask('/api/emitters', 'PUT', body), nowhere);
    expect((await put({ source: 'kiosks' })).status).toBe(400);
    expect((await put({ source: 'kiosks', emitter: 'kiosk-2', retired: true })).status).toBe(200);
  });

  test('a window that is none is refused', async () => {
    for (const query of ['from=now&to=-1d', 'from=soon', 'to=later'])
      expect((await emitters.GET(ask(`/api/emitters?${query}`), nowhere)).status).toBe(400);
    expect((await emitters.GET(ask('/api/emitters?from=2999-01-01&to=2999-01-02'), nowhere)).status).toBe(400);
  });

  test('and their sources are reported with their rates, sources over minutes and not from the full hour', async () => {
    const answer = await emitters.GET(ask('/api/emitters?from=-5m&source=kiosks'), nowhere);
    const { sources: ofSources, emitters: ofEmitters } = await answer.json();
    const asked = Date.now();
    expect(ofSources.from % 60_000).toBe(0);
    expect(ofSources.to - ofSources.from).toBeGreaterThanOrEqual(300_000);
    expect(ofSources.to - ofSources.from).toBeLessThan(360_000);
    expect(asked - ofSources.to).toBeLessThan(10_000);
    expect(ofEmitters.from % 3_600_000).toBe(0);
    const [kiosks, ...others] = ofSources.rows;
    expect(others).toEqual([]);
    const stored = (await engine.search({ condition: 'source = kiosks', limit: 0 })).total;
    expect(kiosks).toMatchObject({ source: 'kiosks', name: '', events: stored });
    const seconds = (ofSources.to - ofSources.from) / 1_000;
    expect(kiosks.eventsPerSecond).toBeCloseTo(stored / seconds, 9);
    expect(ofSources.bytes).toBe(kiosks.bytes);
    // A minute of before has ended.
    const before = await emitters.GET(ask('/api/emitters?from=-20m&to=-10m&source=kiosks'), nowhere);
    const { from, to, rows } = (await before.json()).sources;
    expect([from % 60_000, to % 60_000, rows]).toEqual([0, 0, []]);
  });
});

describe('fleets and maintenance', () => {
  test('a fleet is added, used in a condition, and removed', async () => {
    const put = (body: object): Promise<Response> => fleets.PUT(ask('/api/fleets', 'PUT', body), nowhere);
    expect((await put({ name: 'pier-one', condition: 'site = pier-1' })).status).toBe(200);
    expect((await engine.search({ condition: 'fleet = pier-one' })).total).toBe(2);
    expect((await (await put({ name: 'Pier One', condition: 'site =' })).json()).detail).toMatch(
      /lower-case letters.*; .*condition is wrong|condition is wrong.*; .*lower-case letters/,
    );
    await fleets.DELETE(ask('/api/fleets', 'DELETE', { name: 'pier-one' }), nowhere);
    expect((await (await fleets.GET(ask('/'), nowhere)).json()).fleets).toEqual([]);
  });

  test('a window of maintenance is open for whom it names, and taken out again', async () => {
    const post = (body: object): Promise<Response> => maintenance.POST(ask('/api/maintenance', 'POST', body), nowhere);
    const window = { title: 'New cables', scope: 'site = pier-1', from: Date.now() - 60_000, length: '2h' };
    expect((await post(window)).status).toBe(201);
    expect((await post({ ...window, schedule: '0 2 * * 0' })).status).toBe(201);
    const state = async (): Promise<string> =>
      (await (await health.GET(ask('/api/health?source=kiosks'), nowhere)).json()).followed[0].health.state;
    expect(await state()).toBe('maintenance');
    const { windows } = await (await maintenance.GET(ask('/'), nowhere)).json();
    expect(windows.map(({ to }: { to: number | null }) => to === null).sort()).toEqual([false, true]);
    for (const { id } of windows) await maintenance.DELETE(ask('/api/maintenance', 'DELETE', { id }), nowhere);
    expect(await state()).not.toBe('maintenance');
  });

  test.each([
    [{ length: '1s' }, /A duration of a minute or more/],
    [{ length: 'long' }, /A duration of a minute or more/],
    [{ schedule: 'on Sundays' }, /cron expression/],
    [{ scope: '' }, /Enter which sources/],
    [{ title: ' ' }, /Enter a reason/],
  ])('a window with %j is refused', async (part, message) => {
    const body = { title: 'Works', scope: 'site = pier-1', from: 0, length: '1h', ...part };
    const answer = await maintenance.POST(ask('/api/maintenance', 'POST', body), nowhere);
    expect(answer.status).toBe(400);
    expect((await answer.json()).detail).toMatch(message);
  });
});

test('a source that is removed may send no more and is forgotten, but what is stored of it stays', async () => {
  const { token } = await (await make({ name: 'slipway', kind: 'http', owner: '', labels: {} })).json();
  expect(await sent('slipway', token, '{"host":"winch-1","msg":"hauled"}')).toBe(200);
  await engine.found({ condition: 'source = slipway' }, 1);
  expect((await one('slipway')).health.length).toBeGreaterThan(0);
  const remove = (name: string) => source.DELETE(ask(`/api/sources/${name}`, 'DELETE'), named(name));
  expect((await remove('slipway')).status).toBe(200);
  expect(await sent('slipway', token, '{"msg":"again"}')).toBe(401);
  expect((await source.GET(ask('/api/sources/slipway'), named('slipway'))).status).toBe(404);
  const { followed } = await (await health.GET(ask('/api/health?source=slipway'), nowhere)).json();
  expect(followed).toEqual([]);
  expect((await engine.search({ condition: 'source = slipway' })).total).toBe(1);
  expect((await remove('slipway')).status).toBe(404);
  // The name is free again, and nothing of the old one comes back with it.
  await make({ name: 'slipway', kind: 'http', owner: '', labels: {} });
  expect((await one('slipway')).health).toEqual([]);
});
