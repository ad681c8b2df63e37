import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { hour, minute } from '#core/events/time-units.ts';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import type { Database } from '#store/database.ts';
import { listDrifts } from '#store/sources/drifts.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import { SurgeWatch } from './surge-watch.ts';

const jump = Date.UTC(2026, 10, 25, 10, 40);

let database: Database;

beforeAll(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterAll(() => database.close());

function sent(source: string, start: number, bytes: number): LedgerEntry {
  return { start, source, outcome: 'kept', tier: 'rest', rule: '', parsed: true, events: 1, bytes, stored: 0 };
}

/** What a source sends in each minute from one up to another. */
function minutesOf(source: string, from: number, to: number, bytes: number): readonly LedgerEntry[] {
  return Array.from({ length: (to - from) / minute }, (_, i) => sent(source, from + i * minute, bytes));
}

test('a source that sends ten times as much is reported within three minutes, once, also after a restart', async () => {
  const here = Math.floor(jump / hour) * hour;
  for (const source of ['steady', 'risen', 'batches']) {
    await addToLedger(
      database.db,
      // What is older than a day is counted by the hour.
      Array.from({ length: 14 * 24 }, (_, i) => sent(source, here - (i + 26) * hour, 6e5)),
      1,
    );
    await addToLedger(database.db, minutesOf(source, here - 25 * hour, jump, 10_000));
  }
  // It has sent as much for some minutes this morning.
  await addToLedger(database.db, minutesOf('batches', jump - 5 * hour, jump - 5 * hour + 4 * minute, 100_000));
  const watch = new SurgeWatch(database);
  await watch.look(jump);
  expect(await listDrifts(database, 0)).toEqual([]);
  await addToLedger(database.db, minutesOf('steady', jump, jump + 3 * minute, 10_000));
  for (const source of ['risen', 'batches'])
    await addToLedger(database.db, minutesOf(source, jump, jump + 3 * minute, 100_000));
  await watch.look(jump + 2.5 * minute);
  await watch.look(jump + 3 * minute);
  await new SurgeWatch(database).look(jump + 3 * minute);
  expect(await listDrifts(database, 0)).toMatchObject([
    {
      ...{ source: 'risen', kind: 'volume-surged', since: jump, noticedAt: jump + 2.5 * minute },
      text: '100 kB a minute; 10 kB are usual at this hour of weekdays',
    },
  ]);

  // It ends, and comes back a good while later on the next day: at that hour it is no habit.
  const again = jump + 29 * hour;
  await addToLedger(database.db, minutesOf('risen', again, again + 3 * minute, 200_000));
  await watch.look(again + 2.5 * minute);
  expect((await listDrifts(database, 0)).map(({ since }) => since)).toEqual([again, jump]);
});

test('a first delivery of old events is no surge, although they are stored under earlier hours', async () => {
  const stored = Array.from({ length: 36 }, (_, i) => ({
    ...sent('weather', jump - (i + 1) * hour, 0),
    ...{ events: 0, stored: 400 },
  }));
  await addToLedger(database.db, stored, 1);
  await addToLedger(database.db, minutesOf('weather', jump, jump + 3 * minute, 100_000));
  const watch = new SurgeWatch(database);
  await watch.look(jump + 2.5 * minute);
  await watch.look(jump + 3 * minute);
  expect((await listDrifts(database, 0)).filter(({ source }) => source === 'weather')).toEqual([]);
});
