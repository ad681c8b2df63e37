import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { hour, minute } from '#core/events/time-units.ts';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import type { Database } from '#store/database.ts';
import { listDrifts } from '#store/sources/drifts.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import { VolumeWatch } from './volume-watch.ts';

const now = Date.UTC(2026, 10, 25, 10, 30);

let database: Database;

beforeAll(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterAll(() => database.close());

function sent(source: string, start: number, bytes: number): LedgerEntry {
  const events = Math.ceil(bytes / 200);
  return { start, source, outcome: 'kept', tier: 'rest', rule: '', parsed: true, events, bytes, stored: 0 };
}

/** What a source sends in each minute of an hour. */
function minutesOf(source: string, from: number, bytes: number): readonly LedgerEntry[] {
  return Array.from({ length: 60 }, (_, i) => sent(source, from + i * minute, bytes));
}

test('a volume beyond what is usual is reported once, also after a restart, and again when it comes back', async () => {
  for (const source of ['steady', 'risen']) {
    const past = Array.from({ length: 14 * 24 }, (_, i) => sent(source, now - (now % hour) - (i + 3) * hour, 6e6));
    await addToLedger(database.db, past);
    await addToLedger(database.db, minutesOf(source, now - 2 * hour, 100_000));
  }
  await addToLedger(database.db, [
    ...minutesOf('steady', now - hour, 100_000),
    ...minutesOf('risen', now - hour, 500_000),
  ]);
  const watch = new VolumeWatch(database);
  await watch.look(now, 1);
  expect(await listDrifts(database, 0)).toEqual([]);
  await watch.look(now + minute, 1);
  await watch.look(now + 2 * minute, 1);
  const restarted = new VolumeWatch(database);
  await restarted.look(now + 3 * minute, 1);
  await restarted.look(now + 4 * minute, 1);
  const reported = await listDrifts(database, 0);
  expect(reported).toMatchObject([
    { source: 'risen', kind: 'volume-moved', subject: 'above', noticedAt: now + minute },
  ]);
  expect(Math.abs((reported[0]?.since ?? 0) - (now - hour))).toBeLessThanOrEqual(4 * minute);

  await addToLedger(database.db, [...minutesOf('risen', now, 100_000), ...minutesOf('risen', now + hour, 500_000)]);
  await watch.look(now + hour, 1);
  expect(await listDrifts(database, 0)).toHaveLength(1);
  await watch.look(now + 2 * hour - minute, 1);
  await watch.look(now + 2 * hour, 1);
  expect(await listDrifts(database, 0)).toHaveLength(2);
});
