import { inspect } from 'node:util';
import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { day, hour } from '#core/events/time-units.ts';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import { decodeHeader, headerNumber } from '#core/segments/header.ts';
import { likelyNumber } from '#core/segments/part-numbers.ts';
import type { NewSegment } from '#core/segments/segment.ts';
import { type Database, openDatabase } from './database.ts';
import { addDeliveries, findDeliveries, forgetDeliveries } from './events/deliveries.ts';
import {
  exchangeSegments,
  insertSegments,
  listSegments,
  readParts,
  removeExpired,
  removeReplaced,
  tierContents,
} from './events/segments.ts';
import { addToTape, cutTape, listTape, readTape, rewriteTape } from './events/tape.ts';
import { isAway, isRepeated, StoreFault } from './fault.ts';
import { discardDraft, listDiscardedDrafts, readDraft, saveDraft, takeUpDraft } from './plan/plans.ts';
import { addEmitterVolume, listEmitters, planEmitter, saveEmitters, sumEmitterVolume } from './sources/emitters.ts';
import { listPositions, objectIdentity, saveProgress } from './sources/positions.ts';
import { addToken, endToken, listTokens, saveSource } from './sources/sources.ts';
import { emptyDatabase } from './testing/database.ts';
import { beginCapDay, listCapDays, removeCapUse } from './volume/cap-days.ts';
import { addToLedger, firstAndLastSeen, removeLedger, rollUpLedger, sumLedger } from './volume/ledger.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

const now = Date.UTC(2026, 10, 24, 9, 30);

function segment(from: number, to: number, more: Partial<NewSegment> = {}): NewSegment {
  return {
    tier: 'rest',
    source: 'gates',
    slot: 0,
    revision: 1,
    facts: { events: 10, weight: 20, bytes: 1_000, from, to },
    parts: [
      { name: 'time', data: Uint8Array.of(1, 2, 3) },
      { name: 'body', data: Uint8Array.of(0, 255, 0, 10) },
    ],
    ...more,
  };
}

describe('segments', () => {
  const idsIn = async (from: number, to: number, tiers?: readonly string[]) =>
    (await listSegments(database, { from, to }, tiers)).map(({ id }) => id);

  test('are found by the events they hold, both ends being part of them', async () => {
    await insertSegments(database.db, [segment(1_000, 2_000), segment(3_000, 4_000, { tier: 'hot' })]);
    const [hot, rest] = await idsIn(0, 9_000);
    expect(await idsIn(2_000, 3_000)).toEqual([rest]);
    expect(await idsIn(2_001, 3_000)).toEqual([]);
    expect(await idsIn(2_001, 3_001)).toEqual([hot]);
    expect(await idsIn(0, 9_000, ['hot'])).toEqual([hot]);
    expect(await idsIn(0, 9_000, [])).toEqual([]);
  });

  test('give their parts byte for byte, and only those that were asked for', async () => {
    await insertSegments(database.db, [segment(1_000, 2_000)]);
    const [id = 0] = await idsIn(0, 9_000);
    const parts = await readParts(database, [id], [likelyNumber('body')]);
    expect(parts.map(({ data }) => [...data])).toEqual([[0, 255, 0, 10]]);
    const [header] = await readParts(database, [id], [headerNumber]);
    expect([...decodeHeader(header?.data ?? new Uint8Array(0)).parts.keys()].sort()).toEqual(['body', 'time']);
  });

  test('are exchanged all or not at all', async () => {
    await insertSegments(database.db, [segment(1_000, 2_000), segment(2_000, 3_000)]);
    const [second = 0, first = 0] = await idsIn(0, 9_000);
    let alongside = 0;
    const merged = segment(1_000, 3_000, { facts: { events: 20, weight: 40, bytes: 2_000, from: 1_000, to: 3_000 } });
    const exchange = (old: readonly number[]) =>
      exchangeSegments(database, { old, added: [merged], now, alongside: async () => void alongside++ });
    expect(await exchange([first, second])).toBe(true);
    expect(await exchange([first, second])).toBe(false);
    expect(alongside).toBe(1);
    expect(await tierContents(database)).toEqual([
      { tier: 'rest', events: 20, weight: 40, bytes: 2_000, stored: 7, from: 1_000, to: 3_000, segments: 1 },
    ]);
    // Searches that began before still read the replaced ones, until they are removed.
    expect(await readParts(database, [first], [headerNumber])).toHaveLength(1);
    expect(await removeReplaced(database, now)).toBe(0);
    expect(await removeReplaced(database, now + 1)).toBe(2);
    expect(await readParts(database, [first, second], [headerNumber])).toEqual([]);
  });

  test('when something fails alongside, nothing is exchanged', async () => {
    await insertSegments(database.db, [segment(1_000, 2_000)]);
    const before = await idsIn(0, 9_000);
    const alongside = () => Promise.reject(new Error('the ledger is away'));
    const failing = exchangeSegments(database, { old: before, added: [segment(1_000, 2_000)], now, alongside });
    await expect(failing).rejects.toThrow('the ledger is away');
    expect(await idsIn(0, 9_000)).toEqual(before);
  });

  test('expire once their last event is past the tier', async () => {
    await insertSegments(database.db, [segment(1_000, 2_000), segment(1_500, 5_000), segment(1, 2, { tier: 'hot' })]);
    expect(await removeExpired(database, 'rest', { from: 0, before: 2_000 })).toBe(0);
    expect(await removeExpired(database, 'rest', { from: 0, before: 2_001 })).toBe(1);
    expect((await tierContents(database)).map(({ tier, segments }) => [tier, segments]).sort()).toEqual([
      ['hot', 1],
      ['rest', 1],
    ]);
  });
});

describe('the ledger', () => {
  const entry = (start: number, more: Partial<LedgerEntry> = {}): LedgerEntry => ({
    start,
    source: 'gates',
    outcome: 'kept',
    tier: 'rest',
    rule: '',
    parsed: true,
    events: 1,
    bytes: 100,
    stored: 10,
    ...more,
  });

  test('adds to what it has, and sums by any keys and stretches', async () => {
    await addToLedger(database.db, [entry(now), entry(now + 60_000), entry(now, { outcome: 'excluded', tier: '' })]);
    await addToLedger(database.db, [entry(now, { events: 4, bytes: 400, stored: 0 })]);
    const window = { from: now, to: now + hour };
    const sums = await sumLedger(database, window, ['outcome'], 0);
    expect(Object.fromEntries(sums.map(({ outcome, events, bytes }) => [outcome, [events, bytes]]))).toEqual({
      kept: [6, 600],
      excluded: [1, 100],
    });
    const minutes = await sumLedger(database, window, [], 60_000);
    expect(minutes.map(({ start, events }) => [start, events]).sort()).toEqual([
      [now, 6],
      [now + 60_000, 1],
    ]);
    expect(await firstAndLastSeen(database)).toEqual(new Map([['gates', { first: now, last: now + 60_000 }]]));
  });

  test('holds old minutes by the hour, and no sum changes by that', async () => {
    const old = Math.floor((now - 3 * day) / hour) * hour;
    const entries = Array.from({ length: 130 }, (_, i) => entry(old + i * 60_000, { parsed: i % 2 === 0 }));
    await addToLedger(database.db, [...entries, entry(now)]);
    const total = async () => await sumLedger(database, { from: 0, to: now + hour }, ['parsed'], 0);
    const before = await total();
    await rollUpLedger(database, now);
    await rollUpLedger(database, now);
    expect(await total()).toEqual(before);
    const stretches = await sumLedger(database, { from: 0, to: now }, ['parsed'], 60_000);
    expect(stretches.length).toBe(6);
    expect(stretches.every(({ start }) => start % hour === 0)).toBe(true);
  });

  test('what one source kept since a time is taken out of the days of caps', async () => {
    const start = Math.floor(now / day) * day;
    const kept = { tier: 'rest', outcome: 'kept' } as const;
    await addToLedger(database.db, [entry(start, kept), entry(start, { ...kept, source: 'tides' })]);
    await beginCapDay(database, 'rest', { start, end: start + day });
    const events = async () =>
      (await listCapDays(database.db, ['rest'], { from: start, to: start + 1 })).map((one) => one.events);
    expect(await events()).toEqual([2]);
    await removeCapUse(database.db, 'tides', start);
    expect(await events()).toEqual([1]);
  });

  test('forgets one source from a time on', async () => {
    await addToLedger(database.db, [entry(now - hour), entry(now), entry(now, { source: 'tides' })]);
    await removeLedger(database.db, 'gates', now);
    const sums = await sumLedger(database, { from: 0, to: now + hour }, ['source'], 0);
    expect(Object.fromEntries(sums.map(({ source, events }) => [source, events]))).toEqual({ gates: 1, tides: 1 });
  });
});

test('a delivery is remembered by source and key, and a second one of that key fails', async () => {
  const delivery = { key: 'a', accepted: 3, rejected: 0 };
  await addDeliveries(database.db, [
    { source: 'gates', at: now, ...delivery },
    { source: 'tides', at: now - day, ...delivery },
  ]);
  const known = await findDeliveries(database, [
    { source: 'gates', key: 'a' },
    { source: 'gates', key: 'b' },
  ]);
  expect(known.map(({ source, key }) => [source, key])).toEqual([['gates', 'a']]);
  const twice = addDeliveries(database.db, [{ source: 'gates', at: now, ...delivery }]);
  expect(isRepeated(await twice.catch((error: unknown) => error), 'intake_key')).toBe(true);
  await forgetDeliveries(database, now);
  expect(await findDeliveries(database, [{ source: 'tides', key: 'a' }])).toEqual([]);
});

test('the tape is listed newest first, rewritten in place, and runs off', async () => {
  const chunk = (from: number, source: string) => ({
    source,
    from,
    to: from + 999,
    lines: 3,
    data: Uint8Array.of(from / 1_000),
  });
  await addToTape(database.db, [chunk(1_000, 'gates'), chunk(2_000, 'tides'), chunk(3_000, 'gates')]);
  const froms = async (source?: string): Promise<readonly number[]> => {
    const ids = (await listTape(database, { from: 0, to: 9_000 }, source)).map(({ id }) => id);
    return (await readTape(database, ids)).map(({ from }) => from);
  };
  expect(await froms()).toEqual([3_000, 2_000, 1_000]);
  expect(await froms('gates')).toEqual([3_000, 1_000]);
  const [newest] = await listTape(database, { from: 0, to: 9_000 });
  await rewriteTape(database, newest?.id ?? 0, Uint8Array.of(77));
  const id = newest?.id ?? 0;
  expect((await readTape(database, [id, id + 1])).map(({ data }) => [...data])).toEqual([[77]]);
  await cutTape(database, 2_999);
  expect(await froms()).toEqual([3_000, 2_000]);
});

test('what is learnt of emitters leaves alone what people said of them', async () => {
  const row = { source: 'gates', name: 'gate-1', firstSeen: 1, lastSeen: 2, facts: { rhythm: [] } };
  await saveEmitters(database.db, [row]);
  await planEmitter(database.db, { source: 'gates', name: 'gate-1' }, { retired: true, expectedBack: null });
  await saveEmitters(database.db, [{ ...row, lastSeen: 9, facts: { rhythm: [1] } }]);
  expect(await listEmitters(database.db)).toMatchObject([
    { source: 'gates', name: 'gate-1', firstSeen: 1, lastSeen: 9, retired: true, facts: { rhythm: [1] } },
  ]);
});

test('the volume of emitters adds up by the hour', async () => {
  const volume = (start: number, name: string, events: number) => ({
    start,
    source: 'gates',
    name,
    events,
    bytes: events * 10,
  });
  await addEmitterVolume(database.db, [volume(0, 'gate-1', 3), volume(hour, 'gate-1', 4), volume(0, 'gate-2', 5)]);
  await addEmitterVolume(database.db, [volume(0, 'gate-1', 2)]);
  const sums = await sumEmitterVolume(database, { from: 0, to: hour });
  expect(Object.fromEntries(sums.map(({ name, events, bytes }) => [name, [events, bytes]]))).toEqual({
    'gate-1': [5, 50],
    'gate-2': [5, 50],
  });
});

test('tokens end at once or from a time on', async () => {
  const settings = { kind: 'http', format: 'auto', owner: '', labels: {}, accepts: '', settings: {}, createdAt: now };
  await saveSource(database.db, { name: 'gates', ...settings });
  for (const [index, hint] of ['aaaa', 'bbbb', 'cccc'].entries()) {
    await addToken(database.db, {
      hash: String(index).repeat(64),
      source: 'gates',
      hint,
      backfill: false,
      createdAt: now,
    });
  }
  const ids = new Map((await listTokens(database)).map(({ hint, id }) => [hint, id]));
  const id = (hint: string): number => ids.get(hint) ?? 0;
  await endToken(database.db, { source: 'gates', id: id('aaaa') }, Date.now() - 1);
  await endToken(database.db, { source: 'gates', id: id('bbbb') }, Date.now() + day);
  await endToken(database.db, { source: 'tides', id: id('cccc') }, Date.now() - 1);
  expect((await listTokens(database)).map(({ hint }) => hint).sort()).toEqual(['bbbb', 'cccc']);
});

test('the position of a file moves on, wherever the file is moved', async () => {
  const file = { kind: 'file', source: 'files', place: '1-2', headLength: 4, headHash: 'h', note: '' } as const;
  const at = { ...file, marks: [[10, 4, 'm'] as const], changedAt: now };
  await saveProgress(database.db, [{ ...at, file: 'one', offset: 10, path: '/srv/a.log' }]);
  await saveProgress(database.db, [{ ...at, file: 'one', offset: 25, path: '/srv/a.log.1', place: '1-3' }]);
  const [position] = await listPositions(database, 'files');
  expect(position).toMatchObject({
    file: 'one',
    offset: 25,
    path: '/srv/a.log.1',
    place: '1-3',
    marks: [[10, 4, 'm']],
  });
});

test('keys and objects that differ in blanks at their end alone are not the same', async () => {
  const delivery = (key: string) => ({ source: 'gates', key, accepted: 1, rejected: 0, at: now });
  await addDeliveries(database.db, [delivery('a'), delivery('a '), delivery('A')]);
  const known = await findDeliveries(database, [
    { source: 'gates', key: 'a ' },
    { source: 'gates', key: 'a  ' },
  ]);
  expect(known.map(({ key }) => key)).toEqual(['a ']);
  expect(objectIdentity('a', '1')).not.toBe(objectIdentity('a ', '1'));
  const long = 'x'.repeat(2_000);
  expect(objectIdentity(`1${long}`, '')).not.toBe(objectIdentity(`2${long}`, ''));
});

test('any name of an attribute can be stored', async () => {
  const names = ['number:a', 'number:a ', `text:${'n'.repeat(350)}`, 'text:\u0000', 'flag:é', 'flag:E'];
  const facts = { events: 1, weight: 1, bytes: 1, from: 1, to: 2 };
  const parts = names.map((name) => ({ name, data: Uint8Array.of(1) }));
  await insertSegments(database.db, [{ tier: 'rest', source: 'gates', slot: 0, revision: 1, facts, parts }]);
  const [segment] = await listSegments(database, { from: 0, to: 9 }, undefined);
  const [header] = await readParts(database, [segment?.id ?? 0], [headerNumber]);
  expect([...decodeHeader(header?.data ?? new Uint8Array(0)).parts.keys()].sort()).toEqual([...names].sort());
});

test('what the store refuses says nothing of the row', async () => {
  const secret = 'tok_5f1d7c2b9a3e4d60';
  const row = { hash: secret.repeat(9), source: secret, hint: 'toolong', backfill: false, createdAt: 1 };
  const fault = await addToken(database.db, row).catch((error: unknown) => error);
  expect(fault).toBeInstanceOf(StoreFault);
  expect(fault).toMatchObject({ kind: 'refused', table: 'token' });
  const inside = await database.db
    .transaction(async (tx) => await addToLedger(tx, [{ ...ledgerRow, source: secret.repeat(9) }]))
    .catch((error: unknown) => error);
  for (const error of [fault, inside]) expect(inspect(error, { depth: 9, showHidden: true })).not.toContain(secret);
});

const ledgerRow = {
  start: 0,
  source: 'gates',
  outcome: 'kept',
  tier: 'rest',
  rule: '',
  parsed: true,
  events: 1,
  bytes: 1,
  stored: 1,
} as const;

test('a store that is away is distinguished from a wrong question', async () => {
  const nowhere = openDatabase('mysql://root@127.0.0.1:1/none', 1);
  expect(isAway(await nowhere.db.execute('select 1').catch((error: unknown) => error))).toBe(true);
  expect(isAway(await database.db.execute('select wrong from nothing').catch((error: unknown) => error))).toBe(false);
  await nowhere.close();
});

test('a statement that ran out of time may succeed later, such as after the clock was moved', async () => {
  const slow = database.db.execute('set statement max_statement_time = 0.05 for select sleep(5)');
  expect(await slow.catch((error: unknown) => error)).toMatchObject({ kind: 'away', code: 'ER_STATEMENT_TIMEOUT' });
});

test('the last five drafts that were thrown away can be taken up again, for a day', async () => {
  const draft = (number: number) => ({ plan: `{"n":${number}}`, basedOn: 1, changedAt: now, rehearsal: null });
  expect(await discardDraft(database.db, now)).toBe(false);
  for (let i = 0; i < 7; i++) {
    await saveDraft(database.db, draft(i));
    expect(await discardDraft(database.db, now + i)).toBe(true);
  }
  const discarded = await listDiscardedDrafts(database, now + day);
  expect(discarded.map(({ plan }) => plan)).toEqual(['{"n":6}', '{"n":5}', '{"n":4}', '{"n":3}', '{"n":2}']);
  await saveDraft(database.db, draft(9));
  expect(await takeUpDraft(database.db, discarded[1]?.id ?? 0, now)).toBe(true);
  expect((await readDraft(database.db))?.plan).toBe('{"n":5}');
  // The one that stood there is not lost for it.
  expect((await listDiscardedDrafts(database, now + 1)).map(({ plan }) => plan)).toContain('{"n":9}');
  expect(await takeUpDraft(database.db, discarded[1]?.id ?? 0, now)).toBe(false);
  expect(await takeUpDraft(database.db, discarded[0]?.id ?? 0, now + 2 * day)).toBe(false);
});
