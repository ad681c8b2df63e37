import { once } from 'node:events';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, test } from 'vitest';
import { sourceBounds } from '../../sources/source-bounds.ts';
import { freePort } from '../../testing/ports.ts';
import { listObjectsAt } from './object-list.ts';

test('a folder has each of its files once, whatever links lead to it, and none of other folders', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'otter-objects-'));
  const [allowed, outside] = [join(folder, 'allowed'), join(folder, 'outside')];
  mkdirSync(join(allowed, 'day'), { recursive: true });
  mkdirSync(outside);
  for (const path of [join(allowed, 'day/tide.log'), join(allowed, 'gate.log'), join(outside, 'secret.log')])
    writeFileSync(path, 'a line\n');
  symlinkSync(allowed, join(allowed, 'day/around'));
  symlinkSync(join(allowed, 'gate.log'), join(allowed, 'day/the-same-gate.log'));
  symlinkSync(outside, join(allowed, 'away'));
  symlinkSync(join(outside, 'secret.log'), join(allowed, 'secret.log'));
  symlinkSync('/dev/zero', join(allowed, 'zero.log'));
  const { objects: listed } = await listObjectsAt(pathToFileURL(`${allowed}/`).href, sourceBounds([allowed], []));
  expect(listed.map(({ name }) => name)).toEqual(['day/tide.log', 'gate.log']);
  rmSync(folder, { recursive: true });
});

test('an unchanged list is returned as it is, a changed one is parsed', async () => {
  let names = ['b', 'a'];
  const server = createServer((_, answer) => {
    answer.end(JSON.stringify({ objects: names.map((name) => ({ name, version: '1', size: 3 })) }));
  });
  server.listen(await freePort(), '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  const url = `http://127.0.0.1:${port}/list.json`;
  const bounds = sourceBounds([], [`127.0.0.1:${port}`]);
  const first = await listObjectsAt(url, bounds);
  expect(first.objects.map(({ name }) => name)).toEqual(['a', 'b']);
  expect(await listObjectsAt(url, bounds, first)).toBe(first);
  names = ['c'];
  expect((await listObjectsAt(url, bounds, first)).objects).toMatchObject([{ name: 'c' }]);
  server.close();
});
