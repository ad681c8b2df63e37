import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { day, hour, minute } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import { noResources } from '#core/steps/step.ts';
import type { Database } from '#store/database.ts';
import { addDeliveries, findDeliveries } from '#store/events/deliveries.ts';
import { exchangeSegments, insertSegments, listSegments, readParts } from '#store/events/segments.ts';
import { addToTape, listTape } from '#store/events/tape.ts';
import { tierGraces } from '#store/plan/schema.ts';
import { listTierGraces, prolongTierGrace } from '#store/plan/tier-graces.ts';
import { addDrifts, listDrifts } from '#store/sources/drifts.ts';
import { addEmitterVolume, sumEmitterVolume } from '#store/sources/emitters.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { addToLedger, sumLedger } from '#store/volume/ledger.ts';
import { openPlan } from '../plan/live-plan.ts';
import { expireRound } from './expire.ts';

const now = Date.UTC(2026, 10, 24, 9, 30);

const plan: PlanDocument = { plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '3d' }] };

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

function segment(tier: string, age: number) {
  const to = now - age;
  return {
    tier,
    source: 'gates',
    slot: 0,
    revision: 1,
    facts: { events: 1, weight: 1, bytes: 100, from: to - minute, to },
    parts: [{ name: 'whole', data: Uint8Array.of(1) }],
  };
}

async function storedHours(): Promise<readonly string[]> {
  const segments = await listSegments(database, { from: 0, to: now + day }, undefined);
  return segments.map(({ tier, to }) => `${tier} ${Math.round((now - to) / hour)} h`).sort();
}

test('each tier keeps its events as long as the plan says; a tier that is not in it keeps them', async () => {
  await insertSegments(database.db, [
    segment('rest', 2 * day),
    segment('rest', 4 * day),
    segment('passing', 10 * minute),
    segment('passing', 2 * hour),
    segment('rejects', 6 * day),
    segment('rejects', 8 * day),
    segment('former', 400 * day),
  ]);
  await expireRound(database, plan, now);
  expect(await storedHours()).toEqual(['former 9600 h', 'passing 0 h', 'rejects 144 h', 'rest 48 h']);
});

test('what was replaced goes with its parts once no search can still need it', async () => {
  await insertSegments(database.db, [segment('rest', hour), segment('rest', hour)]);
  const old = (await listSegments(database, { from: 0, to: now }, undefined)).map(({ id }) => id);
  await exchangeSegments(database, { old, added: [segment('rest', hour)], now });
  await expireRound(database, plan, now + minute);
  expect(await readParts(database, old, [0])).toHaveLength(2);
  await expireRound(database, plan, now + 3 * minute);
  expect(await readParts(database, old, [0])).toEqual([]);
  expect(await storedHours()).toEqual(['rest 1 h']);
});

test('keys, tape, changes and volumes of emitters are forgotten in their time', async () => {
  const delivery = (key: string, at: number) => ({ source: 'gates', key, accepted: 1, rejected: 0, at });
  await addDeliveries(database.db, [delivery('old', now - 2 * day), delivery('new', now - hour)]);
  const chunk = (at: number) => ({ source: 'gates', from: at, to: at, lines: 1, data: Uint8Array.of(1) });
  await addToTape(database.db, [chunk(now - 26 * hour), chunk(now - 24 * hour)]);
  const drift = (noticedAt: number) => ({
    source: 'gates',
    kind: 'field-appeared',
    subject: 'a',
    text: 'a',
    shows: '',
    since: noticedAt,
    noticedAt,
  });
  await addDrifts(database, [drift(now - 31 * day), drift(now - 29 * day)]);
  const volume = (start: number) => ({ start, source: 'gates', name: 'a', events: 1, bytes: 1 });
  await addEmitterVolume(database.db, [volume(now - 36 * day), volume(now - 34 * day)]);
  await expireRound(database, plan, now);
  const keys = ['old', 'new'].map((key) => ({ source: 'gates', key }));
  expect((await findDeliveries(database, keys)).map(({ key }) => key)).toEqual(['new']);
  expect(await listTape(database, { from: 0, to: now })).toHaveLength(1);
  expect(await listDrifts(database, 0)).toHaveLength(1);
  expect(await sumEmitterVolume(database, { from: 0, to: now })).toMatchObject([{ events: 1 }]);
});

test('beyond thirteen months the ledger is kept by the day', async () => {
  const old = Math.floor((now - 400 * day) / day) * day;
  const entry = (start: number): LedgerEntry => ({
    start,
    source: 'gates',
    outcome: 'kept',
    tier: 'rest',
    rule: '',
    parsed: true,
    events: 2,
    bytes: 200,
    stored: 20,
  });
  await addToLedger(database.db, [entry(old + hour), entry(old + 5 * hour), entry(old + 29 * hour)], 1);
  await expireRound(database, plan, now);
  await expireRound(database, plan, now);
  const sums = await sumLedger(database, { from: 0, to: now }, [], hour);
  expect(sums.map(({ start, events }) => [start, events])).toEqual([
    [old, 4],
    [old + day, 2],
  ]);
});

test('the ledger is put together by the hour, and nothing of it is lost', async () => {
  const entry = (start: number): LedgerEntry => ({
    start,
    source: 'gates',
    outcome: 'kept',
    tier: 'rest',
    rule: '',
    parsed: true,
    events: 2,
    bytes: 200,
    stored: 20,
  });
  const old = now - 2 * day - (now % hour);
  await addToLedger(database.db, [
    entry(old),
    entry(old + minute),
    entry(old + 59 * minute),
    entry(now - hour + minute),
  ]);
  await expireRound(database, plan, now);
  const minutes = await sumLedger(database, { from: 0, to: now }, [], minute);
  expect(minutes.map(({ start, events }) => [start, events]).sort()).toEqual([
    [old, 6],
    [now - hour + minute, 2],
  ]);
});

describe('what a revision lets go', () => {
  const shortened: PlanDocument = { ...plan, tiers: [{ id: 'rest', title: 'Rest', keep: '1d' }] };
  const gone: PlanDocument = { ...plan, tiers: [] };
  const publish = async (next: PlanDocument) => {
    const holder = await openPlan(database, () => noResources);
    const publication = { note: 'a change', predicted: null };
    await holder.publish({ ...publication, plan, basedOn: 1 });
    await insertSegments(database.db, [segment('rest', 2 * day), segment('rest', hour)]);
    await holder.publish({ ...publication, plan: next, basedOn: 2 });
    return (await listTierGraces(database))[0];
  };

  test.each([
    ['a tier that is shortened', shortened, ['rest 1 h']],
    ['a tier that is taken out', gone, []],
  ])('%s: it stays for a day, and goes then', async (_, next, left) => {
    const grace = await publish(next);
    const begun = grace?.before ?? 0;
    expect(grace).toMatchObject({ tier: 'rest', keptFor: 3 * day, until: begun + day });
    await expireRound(database, next, now);
    expect(await storedHours()).toEqual(['rest 1 h', 'rest 48 h']);
    await database.db.update(tierGraces).set({ until: now - 1 });
    await expireRound(database, next, now);
    expect(await storedHours()).toEqual(left);
  });

  test('what someone keeps stays for its old time; what is brought back stays as well', async () => {
    const grace = await publish(shortened);
    expect(await prolongTierGrace(database.db, grace?.id ?? 0, now + 2 * day, now)).toBe(true);
    await expireRound(database, shortened, now + 23 * hour);
    expect(await storedHours()).toEqual(['rest 1 h', 'rest 48 h']);
    await expireRound(database, shortened, now + day + 1);
    expect(await storedHours()).toEqual(['rest 1 h']);
  });
});
