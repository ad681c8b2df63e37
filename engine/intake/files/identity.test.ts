import { appendFileSync, copyFileSync, mkdtempSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { afterEach, beforeEach, expect, test } from 'vitest';
import type { FilePosition } from '#store/sources/positions.ts';
import { fingerprintBytes, hashOf, markAt } from './identity.ts';
import { closeFile, look, type OpenFile, openFile, unpackedSize } from './open-file.ts';
import { recognise } from './recognise.ts';

let folder: string;
let open: OpenFile[];

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'otter-files-'));
  open = [];
});

afterEach(async () => {
  for (const file of open) await closeFile(file);
  rmSync(folder, { recursive: true, force: true });
});

const path = (name: string): string => join(folder, name);
const lines = (from: number, to: number): string =>
  Array.from({ length: to - from }, (_, i) => `line ${from + i} of the harbour log\n`).join('');

async function opened(name: string): Promise<OpenFile> {
  const file = await openFile(path(name), () => true);
  if (!file) throw new Error(`${name} is not there`);
  open.push(file);
  return file;
}

/** The position of a file that has been read up to `offset`. */
async function readUpTo(file: OpenFile, offset: number): Promise<FilePosition> {
  const head = await file.content.read(0, Math.min(fingerprintBytes, offset));
  const start = Math.max(0, offset - fingerprintBytes);
  return {
    source: 's',
    file: `${file.path} ${offset}`,
    place: file.place,
    path: file.path,
    offset,
    headLength: head.length,
    headHash: hashOf(head),
    marks: [markAt(offset, await file.content.read(start, offset - start))],
    note: '',
    changedAt: Date.now(),
  };
}

async function recognised(file: OpenFile, free: readonly FilePosition[], others: readonly OpenFile[], later = 0) {
  const size = file.isPacked ? ((await unpackedSize(file)) ?? 0) : file.size;
  return await recognise(file, { size, free, others, now: Date.now() + later });
}

test('a file goes on where it was left, and anew once it was truncated; then its copy goes on for it', async () => {
  writeFileSync(path('a.log'), lines(0, 1_000));
  const file = await opened('a.log');
  const position = await readUpTo(file, file.size);
  appendFileSync(path('a.log'), lines(1_000, 1_100));
  await look(file);
  expect(await recognised(file, [position], [])).toEqual({ kind: 'known', position });
  copyFileSync(path('a.log'), path('a.log.1'));
  const copy = await opened('a.log.1');
  file.position = position;
  expect(await recognised(copy, [], [file])).toEqual({ kind: 'unclear' });
  truncateSync(path('a.log'));
  appendFileSync(path('a.log'), lines(2_000, 4_000));
  await look(file);
  file.position = undefined;
  expect(await recognised(file, [position], [file, copy])).toEqual({ kind: 'new', from: 0, note: '' });
  expect(await recognised(copy, [position], [file])).toEqual({ kind: 'known', position });
});

test('files that begin alike are different files', async () => {
  writeFileSync(path('one.log'), 'hello\n');
  writeFileSync(path('two.log'), 'hello\nworld\n');
  const one = await opened('one.log');
  one.position = await readUpTo(one, one.size);
  const two = await opened('two.log');
  expect(await recognised(two, [], [one])).toEqual({ kind: 'new', from: 0, note: '' });
  // Nor is it one that is gone: a line is too little to tell.
  expect(await recognised(two, [{ ...one.position, place: 'gone' }], [])).toMatchObject({ kind: 'new', from: 0 });
});

test('a banner of any length does not make a copy', async () => {
  const banner = '# the harbour of Skerryvoe, all times are UTC\n'.repeat(30);
  writeFileSync(path('a.log'), banner + lines(0, 400));
  const file = await opened('a.log');
  const position = await readUpTo(file, file.size);
  file.position = position;
  writeFileSync(path('b.log'), banner + lines(400, 420));
  const next = await opened('b.log');
  expect(await recognised(next, [], [file])).toMatchObject({ kind: 'new', from: 0 });
  expect(await recognised(next, [position], [])).toMatchObject({ kind: 'new', from: 0 });
});

test('what may be a copy in the making waits; what stays the same is read when short, and not when long', async () => {
  writeFileSync(path('short.log'), 'harbour open\n');
  writeFileSync(path('long.log'), lines(0, 1_000));
  for (const [name, kind] of [
    ['short.log', 'new'],
    ['long.log', 'copy'],
  ] as const) {
    const file = await opened(name);
    file.position = await readUpTo(file, file.size);
    copyFileSync(path(name), path(`${name}.copy`));
    const copy = await opened(`${name}.copy`);
    expect(await recognised(copy, [], [file])).toEqual({ kind: 'unclear' });
    expect(await recognised(copy, [], [file], 60_000)).toMatchObject({ kind });
  }
});

test('a copy of what was not all read yet is no copy to be passed over', async () => {
  writeFileSync(path('a.log'), lines(0, 1_000));
  const file = await opened('a.log');
  file.position = await readUpTo(file, 10_000);
  copyFileSync(path('a.log'), path('a.log.1'));
  expect(await recognised(await opened('a.log.1'), [], [file], 60_000)).toEqual({ kind: 'unclear' });
});

test('a packed file goes on for the plain one that is gone, however short', async () => {
  for (const text of ['harbour open\n', lines(0, 2_000)]) {
    writeFileSync(path('a.log.1'), text);
    const plain = await opened('a.log.1');
    const position = await readUpTo(plain, text.length);
    writeFileSync(path('a.log.1.gz'), gzipSync(text));
    rmSync(path('a.log.1'));
    expect(await recognised(await opened('a.log.1.gz'), [position], [])).toEqual({ kind: 'known', position });
    rmSync(path('a.log.1.gz'));
  }
});

test('a packed file is unpacked piece by piece, forth and back, and one that is cut off is not', async () => {
  const text = lines(0, 60_000);
  writeFileSync(path('a.gz'), gzipSync(text));
  const file = await opened('a.gz');
  expect(await unpackedSize(file)).toBe(text.length);
  for (const offset of [1_500_000, 3, 700_000])
    expect(Buffer.from(await file.content.read(offset, 40)).toString()).toBe(text.slice(offset, offset + 40));
  writeFileSync(path('cut.gz'), gzipSync(text).subarray(0, 50_000));
  expect(await unpackedSize(await opened('cut.gz'))).toBeUndefined();
});

test('what a file was read further than a copy of it holds is reported, where the copy is long enough to be sure', async () => {
  writeFileSync(path('a.log'), lines(0, 1_000));
  const file = await opened('a.log');
  const early = await readUpTo(file, 20_000);
  const late = await readUpTo(file, 25_000);
  const position = { ...late, place: 'truncated', marks: [...early.marks, ...late.marks] };
  writeFileSync(path('a.log.1'), lines(0, 1_000).slice(0, 22_000));
  expect(await recognised(await opened('a.log.1'), [position], [])).toMatchObject({
    kind: 'new',
    from: 20_000,
    note: expect.stringContaining('stored twice'),
  });
});
