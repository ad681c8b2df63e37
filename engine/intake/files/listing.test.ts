import { mkdirSync, mkdtempSync, renameSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { Listing, listFiles } from './listing.ts';

let folder: string;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'otter-listing-'));
  mkdirSync(join(folder, 'below'));
  for (const name of ['gate.log', 'gate.log.1', 'below/tide.log']) write(name);
});

afterEach(() => rmSync(folder, { recursive: true }));

const write = (name: string): void => writeFileSync(join(folder, name), 'a line\n');

/** Has the folder look as if nothing had happened in it for so many seconds. */
function rest(seconds: number): void {
  const time = Date.now() / 1_000 - seconds;
  utimesSync(folder, time, time);
}

async function names(listing: Listing): Promise<readonly string[] | undefined> {
  return (await listing.changed())?.map((path) => basename(path));
}

test('files are listed again only when their folder changed', async () => {
  rest(60);
  const listing = new Listing([join(folder, 'gate*')]);
  expect(await names(listing)).toEqual(['gate.log', 'gate.log.1']);
  expect(await names(listing)).toBeUndefined();
  renameSync(join(folder, 'gate.log.1'), join(folder, 'gate.log.2'));
  rest(30);
  expect(await names(listing)).toEqual(['gate.log', 'gate.log.2']);
  expect(await names(listing)).toBeUndefined();
  listing.forget();
  expect(await names(listing)).toEqual(['gate.log', 'gate.log.2']);
});

test('while a folder is being changed its files are listed each time', async () => {
  rest(0);
  const listing = new Listing([join(folder, 'gate*')]);
  for (const name of ['gate.log.3', 'gate.log.4']) {
    write(name);
    rest(0);
    expect(await names(listing)).toContain(name);
  }
});

test('files are found by all forms of patterns, from whatever folder they have in common', async () => {
  const found = async (...globs: string[]): Promise<readonly string[]> =>
    (await listFiles(globs.map((glob) => glob.replace(/^!?/, (sign) => `${sign}${folder}/`)))).map((path) =>
      path.slice(folder.length + 1),
    );
  expect(await found('gate.log*', 'below/*.log')).toEqual(['below/tide.log', 'gate.log', 'gate.log.1']);
  expect(await found('{gate.log,below/tide}*')).toEqual(['below/tide.log', 'gate.log', 'gate.log.1']);
  expect(await found('{below,above/there}/*.log')).toEqual(['below/tide.log']);
  expect(await found('**/*.log', '!gate.log')).toEqual(['below/tide.log']);
  expect(await found('below')).toEqual(['below/tide.log']);
  expect(await found('@(gate|tide).log', 'above/there/*.log')).toEqual(['gate.log']);
});

test('where other folders are looked through, files are listed each time', async () => {
  rest(60);
  for (const pattern of [join(folder, '*/tide.log'), join(folder, '**/tide.log'), join(folder, 'below')]) {
    const listing = new Listing([pattern]);
    for (let turn = 0; turn < 2; turn++) expect(await names(listing)).toEqual(['tide.log']);
  }
});

test('a folder that is not there yet has no files, and those that it has later are found', async () => {
  const listing = new Listing([join(folder, 'later/*')]);
  expect(await names(listing)).toEqual([]);
  expect(await names(listing)).toBeUndefined();
  mkdirSync(join(folder, 'later'));
  write('later/tide.log');
  expect(await names(listing)).toEqual(['tide.log']);
});
