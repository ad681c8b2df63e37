import { mkdirSync, mkdtempSync, rmSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { sourceBounds } from '../../sources/source-bounds.ts';
import { filesFound } from './files-found.ts';

let root: string;
let folder: string;

/** Writes a file that was changed so many seconds ago. */
function write(name: string, text: string, ago: number): void {
  const path = join(folder, name);
  writeFileSync(path, text);
  utimesSync(path, Date.now() / 1_000 - ago, Date.now() / 1_000 - ago);
}

beforeAll(() => {
  root = mkdtempSync(join(tmpdir(), 'otter-found-'));
  folder = join(root, 'log');
  mkdirSync(join(folder, 'harbour'), { recursive: true });
  write('gates.log', 'one\ntwo\nnot whole', 60);
  write('harbour/berths.log', 'ERROR berth 4\n  at assign\n', 10);
  write('harbour/berths.log.1.gz', 'packed', 5);
  write('empty.log', '', 1);
  write('notes.txt', 'no log\n', 1);
  writeFileSync(join(root, 'secret.log'), 'password\n');
  symlinkSync(join(root, 'secret.log'), join(folder, 'linked.log'));
});

afterAll(() => rmSync(root, { recursive: true, force: true }));

const names = (files: readonly { readonly path: string }[]) => files.map(({ path }) => path.slice(folder.length + 1));

test('without patterns the logs in the allowed folders are found, the latest first, each with its last whole line', async () => {
  const { files, lines, more } = await filesFound([], sourceBounds([folder], []));
  expect(names(files)).toEqual(['empty.log', 'harbour/berths.log', 'gates.log']);
  expect(files.map(({ lastLine }) => lastLine)).toEqual(['', '  at assign', 'two']);
  expect(lines).toEqual(['ERROR berth 4', '  at assign']);
  // The link leads out of the folder: it is no file that may be read.
  expect(more).toBe(0);
});

test('what patterns find is reported, packed files without their lines; a pattern that finds nothing is no fault', async () => {
  const bounds = sourceBounds([folder], []);
  const { files, lines } = await filesFound([join(folder, 'harbour/*')], bounds);
  expect(names(files)).toEqual(['harbour/berths.log.1.gz', 'harbour/berths.log']);
  expect([files[0]?.lastLine, lines[0]]).toEqual(['', 'ERROR berth 4']);
  expect(await filesFound([join(folder, 'nothing/*.log')], bounds)).toEqual({ files: [], more: 0, lines: [] });
});

test('of a long file the last lines are read, whole ones alone', async () => {
  const long = Array.from({ length: 20_000 }, (_, i) => `line ${i}`).join('\n');
  write('long.log', `${long}\n`, 0);
  const { lines } = await filesFound([join(folder, 'long.log')], sourceBounds([folder], []));
  expect([lines.length, lines[0], lines.at(-1)]).toEqual([400, 'line 19600', 'line 19999']);
});
