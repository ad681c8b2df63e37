import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { dayLength, dayOf } from '#core/costs/month/calendar.ts';
import { hour } from '#core/events/time-units.ts';
import type { LedgerEntry, ShapeVolume } from '#core/routing/ledger.ts';
import { seededRandom } from '#core/routing/route.ts';
import type { Database } from '../database.ts';
import { addShapeVolume, removeShapeVolume } from '../events/shapes.ts';
import { emptyDatabase } from '../testing/database.ts';
import { listDayStates } from './day-changes.ts';
import { addToLedger, removeLedger, rollUpLedger } from './ledger.ts';
import { addUpShapes, addUpVolume, listShapeDays, listVolumeDays, sumDays } from './volume-days.ts';

let database: Database;

beforeAll(async () => {
  database = await emptyDatabase(inject('mariadb'), 4);
});

afterAll(() => database.close());

const now = Date.now();
const today = dayOf(now);
const random = seededRandom(7);
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;

function someEntry(day: number): LedgerEntry {
  return {
    start: day * dayLength + Math.floor(random() * 24) * hour,
    source: pick(['gates', 'tides']),
    outcome: pick(['kept', 'passing']),
    tier: pick(['', 'rest']),
    rule: '',
    parsed: random() < 0.5,
    events: 1 + Math.floor(random() * 100),
    bytes: Math.floor(random() * 1_000),
    stored: Math.floor(random() * 100),
  };
}

function someVolume(day: number): ShapeVolume {
  const { start, source, tier, outcome, events, bytes } = someEntry(day);
  const shape = pick(['aaaaaaaaaa', 'bbbbbbbbbb']);
  return { start, source, tier, outcome, events, bytes, shape, severity: pick([0, 3]) };
}

const sorted = (rows: readonly object[]): readonly string[] =>
  rows.map((row) => JSON.stringify(Object.entries(row).sort())).sort();

/** Whether the sums of all days that are over are those of the ledger, and which of them are out of date. */
async function outOfDate(): Promise<readonly number[]> {
  const states = await listDayStates(database.db, 0);
  for (const { day, isSummed } of states) {
    const window = { from: day, to: day + 1 };
    if (!isSummed || day >= today - 1) continue;
    expect(sorted(await listVolumeDays(database.db, window))).toEqual(sorted(await addUpVolume(database.db, window)));
    expect(sorted(await listShapeDays(database.db, window))).toEqual(sorted(await addUpShapes(database.db, window)));
  }
  return states.filter(({ day, isSummed }) => !isSummed && day < today - 1).map(({ day }) => today - day);
}

test('days that are over are added up, again where anything came or went since, whatever happens at the same time', async () => {
  const add = async (days: readonly number[]): Promise<void> => {
    await database.db.transaction(async (tx) => {
      await addToLedger(
        tx,
        days.map((ago) => someEntry(today - ago)),
      );
      await addShapeVolume(
        tx,
        days.map((ago) => someVolume(today - ago)),
      );
    });
  };
  await add([0, 1, 5, 5, 9]);
  expect(await outOfDate()).toEqual([9, 5]);
  await sumDays(database, now);
  expect(await outOfDate()).toEqual([]);
  // Days between that nothing came for, and the one that ended last, are taken up too.
  expect((await listDayStates(database.db, 0)).map(({ day }) => today - day)).toEqual([9, 8, 7, 6, 5, 4, 3, 2, 1]);

  await add([5, 2]);
  expect(await outOfDate()).toEqual([5, 2]);
  await sumDays(database, now);
  await rollUpLedger(database, now);
  expect(await outOfDate()).toEqual([]);

  const adding = Array.from({ length: 30 }, () => add([2, 3, 5, 9].filter(() => random() < 0.7)));
  for (let i = 0; i < 5; i++) await sumDays(database, now).catch(() => {});
  await Promise.all(adding);
  await outOfDate();
  await sumDays(database, now);
  expect(await outOfDate()).toEqual([]);

  await removeLedger(database.db, 'gates', (today - 4) * dayLength);
  await removeShapeVolume(database.db, 'gates', (today - 4) * dayLength);
  expect(await outOfDate()).toEqual([4, 3, 2]);
  await sumDays(database, now);
  expect(await outOfDate()).toEqual([]);
});

test('a day whose end nobody saw is taken up, though later ones are known by then', async () => {
  const other = await emptyDatabase(inject('mariadb'));
  // As the engine left it that ran on that day: nothing came late.
  await addToLedger(other.db, [someEntry(today - 6)], 1);
  await addToLedger(other.db, [someEntry(today - 3)]);
  await sumDays(other, now);
  expect((await listDayStates(other.db, 0)).map(({ day, isSummed }) => [today - day, isSummed])).toEqual(
    [6, 5, 4, 3, 2].map((ago) => [ago, true]),
  );
  await other.close();
});

test('a store in which nothing came has no days', async () => {
  const empty = await emptyDatabase(inject('mariadb'));
  await sumDays(empty, now);
  expect(await listDayStates(empty.db, 0)).toEqual([]);
  await empty.close();
});
