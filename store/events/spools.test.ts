import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { takeLeases } from '../cluster/leases.ts';
import type { Database } from '../database.ts';
import { emptyDatabase } from '../testing/database.ts';
import { addToSpool, listSpools, oldestBatches, type SpoolBound, takeDelivered } from './spools.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

const now = Date.UTC(2026, 10, 24, 9);
const wide: SpoolBound = { bytes: 1_000, age: 3_600_000, overflow: 'push-back' };

const batch = (events: number, size: number) => ({
  ...{ source: 'gates', events, bytes: events * 100, data: new Uint8Array(size).fill(events) },
});

function add(batches: readonly ReturnType<typeof batch>[], bound = wide, at = now): Promise<void> {
  return database.db.transaction((tx) => addToSpool(tx, batches, { follower: 'archive', bound, at }));
}

test('batches wait in order, numbered on whoever adds them, and are counted', async () => {
  await Promise.all([add([batch(1, 10), batch(2, 20)]), add([batch(3, 30)])]);
  const waiting = await oldestBatches(database, 'archive', 10);
  expect(waiting.map(({ number }) => number)).toEqual([1, 2, 3]);
  expect(waiting.every(({ events, data }) => data.every((byte) => byte === events))).toBe(true);
  expect(await listSpools(database)).toMatchObject([
    { follower: 'archive', batches: 3, events: 6, stored: 60, next: 4 },
  ]);
});

describe('at the bound', () => {
  test('senders are pushed back: nothing of the group is kept', async () => {
    await add([batch(1, 900)]);
    await expect(add([batch(2, 200)])).rejects.toThrow('What leaves for archive waits up to its bound');
    expect(await listSpools(database)).toMatchObject([{ batches: 1, stored: 900, droppedEvents: 0 }]);
    await expect(add([batch(2, 1)], wide, now + wide.age + 1)).rejects.toThrow('archive');
  });

  test('or the oldest are dropped, and counted', async () => {
    const dropping: SpoolBound = { ...wide, overflow: 'drop-oldest' };
    for (let i = 1; i <= 5; i++) await add([batch(i, 300)], dropping);
    expect((await oldestBatches(database, 'archive', 9)).map(({ number }) => number)).toEqual([3, 4, 5]);
    expect(await listSpools(database)).toMatchObject([{ batches: 3, stored: 900, droppedEvents: 3, droppedAt: now }]);
    await add([batch(9, 10)], dropping, now + wide.age + 1);
    expect((await oldestBatches(database, 'archive', 9)).map(({ number }) => number)).toEqual([6]);
    expect(await listSpools(database)).toMatchObject([{ batches: 1, events: 9, stored: 10, droppedEvents: 15 }]);
  });
});

test('what was delivered leaves with the note of its delivery, unless another engine drains the spool by now', async () => {
  await add([batch(1, 10), batch(2, 20)]);
  const [lease] = await takeLeases(database, ['spool archive'], 'a');
  if (!lease) throw new Error('no lease');
  const waiting = await oldestBatches(database, 'archive', 1);
  const failing = () => Promise.reject(new Error('not noted'));
  await expect(takeDelivered(database, lease, waiting, failing)).rejects.toThrow('not noted');
  expect(await oldestBatches(database, 'archive', 9)).toHaveLength(2);
  await takeDelivered(database, lease, waiting);
  expect(await listSpools(database)).toMatchObject([{ batches: 1, events: 2, stored: 20, deliveredEvents: 1 }]);
  const stale = { ...lease, token: lease.token - 1 };
  await expect(takeDelivered(database, stale, await oldestBatches(database, 'archive', 1))).rejects.toThrow('spool');
});
