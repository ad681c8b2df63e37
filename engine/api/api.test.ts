import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, beforeEach, describe, expect, inject, test } from 'vitest';
import type { StepsAnswer } from '#core/answers/plan.ts';
import type { CatalogueAnswer, VolumeAnswer } from '#core/answers/search.ts';
import type { ShapesAnswer } from '#core/answers/shapes.ts';
import type { TapeAnswer } from '#core/answers/sources.ts';
import type { HealthAnswer } from '#core/health/views.ts';
import { saveTable } from '#store/plan/lookup-tables.ts';
import { saveFleet } from '#store/sources/fleets.ts';
import { addMaintenance } from '#store/sources/maintenance.ts';
import { endToken, listSources, listTokens, saveSource } from '#store/sources/sources.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
});

afterAll(() => engine.stop());

const rest = { id: 'rest', title: 'Rest', keep: '7d' };
const pipeline = (source: string, steps: readonly Readonly<Record<string, unknown>>[]) => ({
  plan: 1 as const,
  pipelines: [{ id: 'p', title: 'P', when: `source = ${source}`, steps }],
  tiers: [rest],
});

async function upload(source: string, name: string, body: Uint8Array | string): Promise<Response> {
  const input = JSON.stringify({ name: source, file: name });
  return await fetch(`${engine.api}/operations/upload?${new URLSearchParams({ input })}`, {
    method: 'POST',
    headers: {
      'content-type': 'application/octet-stream',
      authorization: `Bearer ${engine.environment.ENGINE_SECRET}`,
    },
    body: body as BodyInit,
  });
}

describe('uploaded samples', () => {
  beforeEach(async () => {
    await engine.source('samples', { kind: 'upload' });
  });

  test('CSV with column names becomes one event a row, at the times it tells; quoted line ends stay inside', async () => {
    const first = Math.floor(Date.now() / 60_000) * 60_000 - 2 * 86_400_000;
    const [one, two] = [first, first + 60_000].map((time) => new Date(time).toISOString());
    const csv = `time,gauge,height,note\r\n${one},tide-1,2.5,"calm, clear"\r\n${two},tide-2,2.75,\r\n`;
    expect(await (await upload('samples', 'tides.csv', csv)).json()).toMatchObject({ kind: 'stored', accepted: 2 });
    const { events } = await engine.found({ condition: 'source = samples and has gauge' }, 2);
    expect(events.map(({ attributes }) => attributes)).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ gauge: 'tide-1', height: 2.5, note: 'calm, clear' }),
        expect.objectContaining({ gauge: 'tide-2', height: 2.75 }),
      ]),
    );
    expect(new Set(events.map(({ time }) => time))).toEqual(new Set([first, first + 60_000]));
  });

  test('a packed file is unpacked, and the same file counts once', async () => {
    const body = gzipSync(Array.from({ length: 50 }, (_, i) => `{"body":"packed ${i}"}\n`).join(''));
    expect((await upload('samples', 'packed.json.gz', body)).status).toBe(200);
    expect((await upload('samples', 'again.json.gz', body)).status).toBe(200);
    expect((await engine.found({ condition: 'packed', limit: 0 }, 50)).total).toBe(50);
  });

  test('a source that is unknown, and what only looks packed, are reported', async () => {
    expect((await upload('nowhere', 'x.json', '{}')).status).toBe(404);
    const broken = await upload('samples', 'x.gz', Uint8Array.of(0x1f, 0x8b, 1, 2, 3));
    expect(broken.status).toBe(400);
    expect((await broken.json()).detail).toMatch(/gzip/);
  });
});

describe('rejects', () => {
  test('are sent through the live plan again, each once, and only those that were asked for', async () => {
    await engine.source('fares');
    const reading = (template: string) =>
      pipeline('fares', [{ extract: { from: 'body', template }, 'on-failure': 'reject' }]);
    await engine.publish(reading('fare {fare:int}'));
    await send(engine, 'fares', Array.from({ length: 30 }, (_, i) => `fare ${i} EUR\n`).join(''));
    const inRejects = { condition: 'source = fares', tiers: ['rejects'], limit: 5 };
    const rejected = await engine.found(inRejects, 30);
    expect(rejected.total).toBe(30);
    expect(rejected.events[0]?.body).toMatch(/^fare \d+ EUR$/);
    const reason = String(rejected.events[0]?.attributes['parse.failed'] ?? '');
    const retry = async (body: object) => await engine.ask('retryRejects', body);

    expect(await retry({ source: 'fares', reason })).toEqual({ retried: 30 });
    expect((await engine.found(inRejects, 30)).total).toBe(30);

    await engine.publish(reading('fare {fare:int} {currency}'));
    expect(await retry({ source: 'elsewhere', reason })).toEqual({ retried: 0 });
    expect(await retry({ source: 'fares', reason: 'another reason' })).toEqual({ retried: 0 });
    expect(await retry({ source: 'fares', reason })).toEqual({ retried: 30 });
    expect(await retry({ source: 'fares', reason })).toEqual({ retried: 0 });
    expect((await engine.found({ condition: 'source = fares and currency = EUR', limit: 0 }, 30)).total).toBe(30);
    expect((await engine.search(inRejects)).total).toBe(0);
    // What was rejected at first counts as kept now, once.
    const { shapes } = await engine.ask<ShapesAnswer>('shapes', { condition: 'source = fares' });
    expect(shapes.flatMap(({ fates }) => fates).map(({ outcome, events }) => [outcome, events])).toEqual([
      ['kept', 30],
    ]);
    // To the byte, though lines are of different lengths.
    const { sums } = await engine.ask<VolumeAnswer>('volume', { by: 'source,outcome' });
    const ofFares = sums.filter(({ source }) => source === 'fares').map(({ outcome, bytes }) => [outcome, bytes]);
    const bytes = Array.from({ length: 30 }, (_, i) => `fare ${i} EUR`.length).reduce((sum, length) => sum + length, 0);
    expect(Object.fromEntries(ofFares)).toEqual({ kept: bytes, rejected: 0 });
  });
});

describe('what is known of the plan', () => {
  test('steps are measured where events went through them, and fields are catalogued', async () => {
    await engine.source('scans');
    await engine.publish(
      pipeline('scans', [{ extract: { from: 'body', template: 'gate {gate:int} took {took:duration}' } }]),
    );
    await send(engine, 'scans', 'gate 1 took 20ms\ngate 2 took 40ms\ngate two took long\n');
    await engine.found({ condition: 'source = scans' }, 3);
    const { steps } = await engine.ask<StepsAnswer>('steps');
    expect(Object.values(steps)[0]).toMatchObject({ events: 3, failed: 1 });
    const catalogue = await engine.ask<CatalogueAnswer>('catalogue');
    const gate = catalogue.fields.find(({ name }: { name: string }) => name === 'gate');
    expect(gate).toMatchObject({ events: 2, distinct: 2, types: { number: 2, text: 0, flag: 0 } });
    expect(gate?.sources).toEqual([['scans', { number: 2, text: 0, flag: 0 }]]);
    await engine.saveDraft(
      pipeline('scans', [{ extract: { from: 'body', template: 'gate {lane} took {took:duration}' } }]),
    );
    const drafted = await engine.ask<CatalogueAnswer>('catalogue');
    expect(drafted.draft).toBe(true);
    expect(drafted.fields.map(({ name }: { name: string }) => name)).toContain('lane');
  });

  test('an unfinished draft is not catalogued, and not rehearsed on rejects', async () => {
    await engine.saveDraft(pipeline('scans', [{ extract: { from: 'body', template: '{' } }]));
    const { fields, draft } = await engine.ask<CatalogueAnswer>('catalogue');
    expect(draft).toBe(false);
    expect(fields.map(({ name }) => name)).toContain('gate');
    await expect(engine.ask('rehearseRejects', { reason: '' })).rejects.toThrow('The draft is not valid');
  });

  test('a table that changes is used by the events that come after', async () => {
    await engine.source('ports');
    await engine.publish(pipeline('ports', [{ map: { from: 'code', table: 'ports' } }]));
    const write = async (port: string, changedAt: number) => {
      await saveTable(engine.database.db, { name: 'ports', csv: `code,port\nSKV,${port}\n`, changedAt });
      await engine.refresh();
      await send(engine, 'ports', '{"code":"skv"}\n');
    };
    await write('Skerryvoe', 1);
    expect((await engine.found({ condition: 'port = Skerryvoe', limit: 0 }, 1)).total).toBe(1);
    await write('Langwick', 2);
    expect((await engine.found({ condition: 'port = Langwick', limit: 0 }, 1)).total).toBe(1);
  });
});

describe('what is known of sources', () => {
  test('emitters are followed, with maintenance and fleets by the labels of their source', async () => {
    await engine.source('gates', { labels: { site: 'pier-4' } });
    await saveFleet(engine.database.db, { name: 'piers', condition: 'site = pier-*' });
    const now = Date.now();
    await addMaintenance(engine.database.db, {
      title: 'New cables',
      scope: 'fleet = piers and emitter = gate-2',
      from: now - 1_000,
      to: now + 3_600_000,
    });
    await engine.refresh();
    await engine.publish({ plan: 1, pipelines: [], tiers: [{ ...rest, id: 'pier', when: 'fleet = piers' }, rest] });
    await send(engine, 'gates', '{"host":"gate-1","body":"open"}\n{"host":"gate-2","body":"open"}\n');
    expect((await engine.found({ condition: 'fleet = piers', tiers: ['pier'] }, 2)).total).toBe(2);
    const { followed, leftOut } = await engine.ask<HealthAnswer>('health', { source: 'gates' });
    expect(leftOut).toBe(0);
    const state = (emitter: string) =>
      followed.find((view: { emitter: string }) => view.emitter === emitter)?.health.state;
    expect([state(''), state('gate-1'), state('gate-2')]).toEqual(['new', 'new', 'maintenance']);
  });

  test('the tape is read newest first, and scrubbed by masks that were set later', async () => {
    await engine.source('desk');
    const lines = Array.from({ length: 20 }, (_, i) => `{"body":"booked by guest${i}@skerry.example"}\n`).join('');
    await send(engine, 'desk', lines);
    await engine.found({ condition: 'source = desk' }, 20);
    const raw = async () =>
      (await engine.ask<TapeAnswer>('tape', { source: 'desk', limit: '5' })).lines.map((line) => line.raw);
    const before = await raw();
    expect(before.length).toBe(5);
    expect(before[0]).toMatch(/guest\d+@skerry\.example/);
    const source = (await listSources(engine.database)).find(({ name }) => name === 'desk');
    if (!source) throw new Error('the source is gone');
    await saveSource(engine.database.db, { ...source, settings: { masks: [{ find: 'email', with: 'remove' }] } });
    await engine.refresh();
    expect(await engine.ask('scrubTape', { name: 'desk' })).toEqual({ changed: 20 });
    expect(await engine.ask('scrubTape', { name: 'desk' })).toEqual({ changed: 0 });
    expect((await raw()).join('')).not.toContain('@');
  });

  test('what cannot be read again is not rewound', async () => {
    await engine.source('streams');
    await expect(engine.ask('rewind', { name: 'streams', from: '' })).rejects.toThrow(/Only followed files/);
    for (const asked of ['rewind', 'rehearseAgain'] as const) {
      await expect(engine.ask(asked, { name: 'nowhere', from: '' })).rejects.toThrow('There is no source nowhere.');
      await expect(engine.ask(asked, { name: 'streams', from: 'yesterdayish' })).rejects.toThrow(/is not a time/);
    }
  });

  test('a token that ended is refused from then on', async () => {
    await engine.source('kiosk');
    expect((await send(engine, 'kiosk', '{"body":"a"}')).status).toBeLessThan(300);
    const token = (await listTokens(engine.database)).find(({ source }) => source === 'kiosk');
    await endToken(engine.database.db, { source: 'kiosk', id: token?.id ?? 0 }, Date.now() - 1);
    await engine.refresh();
    expect((await send(engine, 'kiosk', '{"body":"b"}')).status).toBe(401);
  });
});

test('what steps look up is answered for those that are tried out elsewhere', async () => {
  await saveTable(engine.database.db, { name: 'berths', csv: 'berth,pier\n1,North\n2,South\n', changedAt: Date.now() });
  await engine.refresh();
  const ask = (body: object): Promise<object> => engine.ask('lookups', body);
  const tables = [
    { name: 'berths', keys: ['2', '9'] },
    { name: 'quays', keys: ['2'] },
  ];
  expect(await ask({ tables, addresses: ['192.0.2.1', 'nonsense'] })).toEqual({
    tables: [
      {
        name: 'berths',
        columns: ['berth', 'pier'],
        rows: [
          ['2', ['2', 'South']],
          ['9', null],
        ],
      },
      { name: 'quays', columns: null, rows: [['2', null]] },
    ],
    places: [
      ['192.0.2.1', null],
      ['nonsense', null],
    ],
  });
  await expect(ask({ addresses: Array.from({ length: 2_001 }, () => '192.0.2.1') })).rejects.toThrow('2000');
});
