import { mkdirSync, mkdtempSync, realpathSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { sourceBounds } from './source-bounds.ts';

let folder: string;

beforeEach(() => {
  folder = realpathSync(mkdtempSync(join(tmpdir(), 'otter-bounds-')));
});

afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('files lie below the folders of the installation, also where one of these is a link', () => {
  mkdirSync(join(folder, 'disk'));
  const bounds = sourceBounds([join(folder, 'logs')], []);
  expect(bounds.allowsFile(join(folder, 'disk/gates.log'))).toBe(false);
  symlinkSync(join(folder, 'disk'), join(folder, 'logs'));
  expect(bounds.allowsFile(join(folder, 'disk/gates.log'))).toBe(true);
  expect(bounds.allowsFile(join(folder, 'logs/gates.log'))).toBe(true);
  expect(bounds.allowsFile(join(folder, 'logs-of-others/gates.log'))).toBe(false);
  expect(bounds.problemOf({ globs: [join(folder, 'logs/*.log')] })).toBeUndefined();
  expect(bounds.problemOf({ globs: [join(folder, 'logs/*/../../*')] })).toContain('SOURCE_FOLDERS');
});

test.each([
  'http://169.254.169.254/',
  'http://[::ffff:169.254.169.254]/',
  'http://[fe80::1]/',
  'http://metadata.example/',
])('%s is never asked, whatever is allowed', (url) => {
  const { host, hostname } = new URL(url);
  const bounds = sourceBounds([], [host, hostname, hostname.replace(/^\[|\]$/g, '')]);
  expect(bounds.problemOf({ url })).toContain('no host that may be asked');
});

test('hosts are those that are named, with their port or with any', () => {
  const bounds = sourceBounds([], ['objects.example', '192.0.2.7:9000']);
  expect(bounds.problemOf({ url: 'http://objects.example:8080/a' })).toBeUndefined();
  expect(bounds.problemOf({ url: 'http://192.0.2.7:9000/' })).toBeUndefined();
  expect(bounds.problemOf({ url: 'http://192.0.2.7:9001/' })).toContain('SOURCE_HOSTS');
  expect(bounds.problemOf({ url: 'gopher://objects.example/' })).toContain('no way to objects');
});
