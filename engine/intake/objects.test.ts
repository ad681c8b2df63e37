import { createServer, type Server, type ServerResponse } from 'node:http';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { latestObjects } from '#store/sources/positions.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';
import { freePort } from '../testing/ports.ts';

let engine: TestEngine;
let server: Server;
let port: number;

/** What the server does with requests for an object, one after the other; after the last it answers well. */
const moods = new Map<string, ('fails' | 'resets' | 'truncates' | 'breaks')[]>();
const objects = new Map<string, Buffer>();
const hanging: ServerResponse[] = [];
let next = 0;

const lines = (count: number): Buffer =>
  Buffer.from(Array.from({ length: count }, () => `{"n":${next++},"text":"berth ${next % 9} is free"}\n`).join(''));

function answer(name: string, response: ServerResponse): void {
  const body = objects.get(name);
  const mood = moods.get(name)?.shift();
  if (!body) response.writeHead(404).end();
  else if (mood === 'fails') response.writeHead(503).end('later');
  else if (mood === 'resets') response.socket?.destroy();
  else if (mood === 'truncates') {
    response.writeHead(200, { 'content-length': body.length });
    response.write(body.subarray(0, body.length / 2), () => response.socket?.destroy());
  } else if (mood === 'breaks') {
    // Half of it, without saying how long it is: only the list tells that this is not all.
    response.shouldKeepAlive = false;
    response.writeHead(200, { connection: 'close' });
    response.socket?.write(body.subarray(0, body.length / 2));
    response.socket?.end();
  } else response.end(body);
}

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  port = await freePort();
  server = createServer((request, response) => {
    const path = decodeURIComponent(request.url ?? '');
    if (path.startsWith('/hangs')) hanging.push(response);
    else if (path.startsWith('/away')) response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end();
    else if (path === '/list/') {
      const all = [...objects].map(([name, content]) => ({ name, version: '1', size: content.length }));
      response.end(JSON.stringify({ objects: all }));
    } else answer(path.replace(/^\/list\//, ''), response);
  });
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
});

afterAll(async () => {
  for (const response of hanging) response.destroy();
  await engine.stop();
  server.close();
});

const settings = (path: string) => ({ url: `http://127.0.0.1:${port}/${path}/` });

test('a server that fails, resets, truncates and hangs: every object once, and no source waits for another', async () => {
  const long = 'x'.repeat(300);
  objects.set(`a/${long}/1.ndjson`, lines(7_000));
  objects.set(`b/${long}/1.ndjson`, lines(6_000));
  objects.set('c/packed.ndjson.gz', gzipSync(lines(12_000)));
  objects.set('d/plain.ndjson', lines(9_000));
  objects.set('e/unsized.ndjson', lines(3_000));
  moods.set(`a/${long}/1.ndjson`, ['fails', 'resets']);
  moods.set('c/packed.ndjson.gz', ['truncates', 'fails']);
  moods.set('d/plain.ndjson', ['resets', 'truncates']);
  moods.set('e/unsized.ndjson', ['fails']);
  await engine.source('hanging', { kind: 'objects', settings: settings('hangs') });
  await engine.source('elsewhere', { kind: 'objects', settings: settings('away') });
  await engine.source('flaky', { kind: 'objects', settings: settings('list') });
  for (const end = Date.now() + 60_000; Date.now() < end; ) {
    const { total } = await engine.found({ condition: 'source = flaky', limit: 0 }, next);
    if (total >= next) break;
  }
  const summary = 'count() as n, distinct(n) as d, sum(n) as s';
  const found = await engine.search({ condition: 'source = flaky', summary, limit: 0 });
  expect(found.summary?.rows[0]?.[0]).toBe(next);
  expect(found.summary?.rows[0]?.[2]).toBe((next * (next - 1)) / 2);
  for (const mood of moods.values()) expect(mood).toEqual([]);
  for (const object of await latestObjects(engine.database, 'flaky'))
    expect(object).toMatchObject({ done: true, problem: '', retryAt: null });
  const [list] = await latestObjects(engine.database, 'elsewhere');
  expect(list?.problem).toMatch(/sends on to another address/);
}, 120_000);

test('what cannot be unpacked is given up after some attempts, shown, and tried again by hand', async () => {
  objects.set('f/broken.gz', Buffer.from([0x1f, 0x8b, 8, 0, 1, 2, 3, 4]));
  const broken = async () => (await latestObjects(engine.database, 'flaky')).find(({ name }) => name === 'f/broken.gz');
  await expect.poll(broken, { timeout: 30_000 }).toMatchObject({ done: true, attempts: 3 });
  expect((await broken())?.problem).toMatch(/cannot be unpacked/);
  objects.set('f/broken.gz', gzipSync(lines(10)));
  await engine.ask('tryObjectsAgain', { name: 'flaky' });
  await expect.poll(broken, { timeout: 10_000 }).toMatchObject({ done: true, problem: '', records: 10 });
});

test('sources read nothing that the installation does not allow', async () => {
  const kinds = { globs: 'files', url: 'objects' };
  const make = async (settings: { globs?: readonly string[]; url?: string }): Promise<object> =>
    await engine.ask('makeSource', { name: 'reader', kind: settings.url ? kinds.url : kinds.globs, settings });
  for (const globs of [[`${engine.folder}/../*.log`], ['/etc/**']])
    await expect(make({ globs })).rejects.toThrow(/SOURCE_FOLDERS/);
  await expect(make({ url: 'http://192.0.2.1/list' })).rejects.toThrow(/SOURCE_HOSTS/);
  await expect(make({ url: 'http://169.254.169.254/latest' })).rejects.toThrow(/may be asked/);
  await expect(make({ url: 'file:///etc/' })).rejects.toThrow(/SOURCE_FOLDERS/);
  expect(await make({ globs: [`${engine.folder}/*.log`] })).toMatchObject({ name: 'reader' });
});
