import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, test } from 'vitest';
import { sourceBounds } from '../source-bounds.ts';
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
  const listed = await listObjectsAt(pathToFileURL(`${allowed}/`).href, sourceBounds([allowed], []));
  expect(listed.map(({ name }) => name)).toEqual(['day/tide.log', 'gate.log']);
  rmSync(folder, { recursive: true });
});
