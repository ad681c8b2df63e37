import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { freePort } from '#engine/testing/ports.ts';
import { serveObjects, writeWeather } from './object-store.ts';

const now = Date.UTC(2026, 10, 24, 9, 30);
const parent = mkdtempSync(join(tmpdir(), 'otter-objects-'));
const folder = join(parent, 'objects');
let server: Server;
let address: string;

beforeAll(async () => {
  const port = await freePort();
  address = `http://127.0.0.1:${port}/objects/`;
  server = serveObjects(folder, port);
  mkdirSync(join(parent, 'objects-private'));
  writeFileSync(join(parent, 'objects-private', 'secret'), 'x');
});

afterAll(() => {
  server.close();
  rmSync(parent, { recursive: true, force: true });
});

const list = async (): Promise<readonly { name: string; version: string; size: number }[]> =>
  (await (await fetch(address)).json()).objects;

test('an object for every hour that is over, each written once and the same on any machine', async () => {
  expect(await list()).toEqual([]);
  writeWeather(folder, now);
  const first = await list();
  expect(first).toHaveLength(37);
  expect(first.map(({ name }) => name)).toContain(join('weather', '2026-11-24', 'isles-08.csv.gz'));
  writeWeather(folder, now);
  expect(await list()).toEqual(first);
  writeWeather(folder, now + 3_600_000);
  expect(await list()).toHaveLength(38);
});

test('an object is CSV with its names in the first line', async () => {
  writeWeather(folder, now);
  const answer = await fetch(`${address}weather/2026-11-24/isles-08.csv.gz`);
  const text = gunzipSync(new Uint8Array(await answer.arrayBuffer())).toString('utf8');
  const [head, row, ...rest] = text.trim().split('\n');
  expect(head).toBe('time,station,wind,pressure,sky');
  expect(row).toMatch(/^2026-11-24T08:00:00\.000Z,"[A-Z][\w ]+",\d+\.\d,\d{3,4},/);
  expect((rest.length + 1) % 12).toBe(0);
});

test('what is not there, and what is outside the folder, is not given', async () => {
  for (const name of ['none', '%2e%2e%2fobjects-private%2fsecret', '..%2f..%2fetc%2fpasswd'])
    expect((await fetch(address + name)).status).toBe(404);
});
