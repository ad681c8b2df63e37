import pino from 'pino';
import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { type Database, openDatabase } from '#store/database.ts';
import { saveFleet } from '#store/sources/fleets.ts';
import { saveRewind } from '#store/sources/rewinds.ts';
import { addToken, endToken, listSources, listTokens, type NewSource, saveSource } from '#store/sources/sources.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { TapeRate } from '../intake/tape-rate.ts';
import { hashToken, SourceDirectory } from './source-directory.ts';

let database: Database;
let directory: SourceDirectory;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  directory = new SourceDirectory(database, pino({ level: 'silent' }));
});

afterEach(() => database.close());

async function add(name: string, more: Partial<NewSource> = {}): Promise<void> {
  await saveSource(database.db, {
    name,
    kind: 'http',
    format: 'auto',
    owner: '',
    labels: {},
    accepts: '',
    settings: {},
    createdAt: 1,
    ...more,
  });
}

describe('tokens', () => {
  test('open their own source, until they are revoked or end', async () => {
    await add('gates');
    await addToken(database.db, {
      hash: hashToken('one'),
      source: 'gates',
      hint: 'aone',
      backfill: false,
      createdAt: 1,
    });
    await addToken(database.db, {
      hash: hashToken('two'),
      source: 'gates',
      hint: 'btwo',
      backfill: true,
      createdAt: 1,
    });
    await directory.refresh();
    expect(directory.right('one')).toMatchObject({ source: { name: 'gates' }, backfill: false });
    expect(directory.right('two')?.backfill).toBe(true);
    expect(directory.right('three')).toBeUndefined();
    const [one, two] = [...(await listTokens(database))].sort((a, b) => a.id - b.id).map(({ id }) => id);
    await endToken(database.db, { source: 'gates', id: one as number }, Date.now());
    await endToken(database.db, { source: 'gates', id: two as number }, Date.now() + 60_000);
    await directory.refresh();
    expect(directory.right('one')).toBeUndefined();
    expect(directory.right('two')?.expiresAt).toBeGreaterThan(Date.now());
  });

  test('of a source that is gone open nothing', async () => {
    await addToken(database.db, {
      hash: hashToken('lost'),
      source: 'gone',
      hint: 'lost',
      backfill: false,
      createdAt: 1,
    });
    await directory.refresh();
    expect(directory.right('lost')).toBeUndefined();
  });
});

describe('syslog', () => {
  test('sources say which messages are theirs; a condition that is wrong leaves the others alone', async () => {
    await add('network', { kind: 'syslog', accepts: 'app = link' });
    await add('broken', { kind: 'syslog', accepts: 'app =' });
    await add('open', { kind: 'syslog' });
    await directory.refresh();
    expect(directory.syslogSources.map(({ source }) => source.name)).toEqual(['network']);
  });

  test('messages of no known source get one, once', async () => {
    await directory.refresh();
    expect(await directory.syslogFallback()).toBe('syslog');
    expect(await directory.syslogFallback()).toBe('syslog');
    expect((await listSources(database)).map(({ name, kind }) => [name, kind])).toEqual([['syslog', 'syslog']]);
  });
});

test('while the store is away messages of no known source keep their name', async () => {
  const away = new SourceDirectory(openDatabase('mysql://root@127.0.0.1:1/none', 1), pino({ level: 'silent' }));
  expect(await away.syslogFallback()).toBe('syslog');
});

test('a delivery gets what its source asks for, and the fleets that it is in', async () => {
  await add('plain');
  await add('gates', {
    labels: { site: 'piers' },
    settings: { masks: [{ find: 'email', with: 'hash' }], join: { continues: '^\\s' } },
  });
  await saveRewind(database.db, { source: 'gates', from: 5, requestedAt: 9, step: 'done', removed: 0 });
  await saveFleet(database.db, { name: 'piers', condition: 'site = piers' });
  await directory.refresh();
  const source = (name: string) =>
    directory.deliveryOf(directory.source(name) as NonNullable<ReturnType<SourceDirectory['source']>>);
  expect(source('plain')).toEqual({});
  expect(source('gates')).toEqual({
    masks: [{ find: 'email', with: 'hash' }],
    join: { continues: '^\\s' },
    notBefore: 5,
    rewoundAt: 9,
    fleets: ['piers'],
  });
  expect(directory.sourcesOfKind('http').map(({ name }) => name)).toEqual(['gates', 'plain']);
});

describe('how much goes on the tape', () => {
  const hour = 3_600_000;

  test('all at first, then ever fewer as the hour fills, anew each hour and for each source', () => {
    const rate = new TapeRate();
    expect(rate.every('gates', 0, 100)).toBe(1);
    let taped = 0;
    let every = 1;
    for (let i = 0; i < 1_000; i++) {
      const next = rate.every('gates', 1_000 + i, 100);
      expect(next).toBeGreaterThanOrEqual(every);
      every = next;
      taped += 100 / every;
    }
    expect(every).toBeGreaterThan(200);
    expect(taped).toBeLessThan(4_000);
    expect(rate.every('tides', 2_000, 100)).toBe(1);
    expect(rate.every('gates', hour, 100)).toBe(1);
  });

  test('of history some of each hour', () => {
    const rate = new TapeRate();
    expect(rate.everyOfHistory(10)).toBe(1);
    expect(10_000 / rate.everyOfHistory(10_000)).toBeCloseTo(200, -1);
  });
});
