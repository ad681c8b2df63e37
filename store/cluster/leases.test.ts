import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import type { Database } from '../database.ts';
import { emptyDatabase } from '../testing/database.ts';
import { giveUpLeases, guardLease, LeaseLost, LeaseSightings, leaseTime, revokeLease, takeLeases } from './leases.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  sightings.clear();
});

afterEach(() => database.close());

let time = 0;
/** What each engine has seen, by a clock that only this test moves. */
const sightings = new Map<string, LeaseSightings>();

async function take(holder: string, names = ['merging', 'retention']) {
  const seen = sightings.get(holder) ?? new LeaseSightings(() => time);
  sightings.set(holder, seen);
  return await takeLeases(database, names, holder, seen);
}

/** Has all leases run out for an engine, as if their holders had been asleep. */
async function runOutFor(holder: string): Promise<void> {
  await take(holder);
  time += leaseTime + 1;
}

describe('a lease', () => {
  test('is taken by one, who keeps it by asking again', async () => {
    const first = await take('a');
    expect(first).toEqual([
      { name: 'merging', holder: 'a', token: 1 },
      { name: 'retention', holder: 'a', token: 1 },
    ]);
    expect(await take('b')).toEqual([]);
    expect(await take('a')).toEqual(first);
    expect(await take('b', ['spool'])).toEqual([{ name: 'spool', holder: 'b', token: 1 }]);
  });

  test('goes to another when it ran out or was given up, under a greater token', async () => {
    await take('a');
    await runOutFor('b');
    expect((await take('b')).map(({ token }) => token)).toEqual([2, 2]);
    expect(await take('a')).toEqual([]);
    await giveUpLeases(database, 'b', ['merging']);
    expect(await take('a')).toEqual([{ name: 'merging', holder: 'a', token: 3 }]);
  });

  test('that ran out and nobody took is the holder’s still', async () => {
    const [before] = await take('a');
    await runOutFor('b');
    expect((await take('a'))[0]).toMatchObject({ holder: 'a' });
    expect(before?.token).toBeLessThanOrEqual((await take('a'))[0]?.token ?? 0);
  });

  test('whose holder gives signs of life is left to it, whatever the clocks say', async () => {
    const [lease] = await take('a');
    if (!lease) throw new Error('no lease');
    for (let i = 0; i < 5; i++) {
      expect(await take('b')).toEqual([]);
      time += leaseTime - 1;
      // Asking again is one; writing by the lease is another.
      if (i % 2 === 0) await take('a');
      else {
        await database.db.transaction((tx) => guardLease(tx, lease));
        await take('a', ['retention']);
      }
    }
    expect(await take('b')).toEqual([]);
  });

  test('is not held to have run out by who sees it for the first time', async () => {
    await take('a');
    time += 1_000 * leaseTime;
    expect(await take('b')).toEqual([]);
  });

  test('of ten who ask at once goes to one', async () => {
    const asked = await Promise.all(Array.from({ length: 10 }, (_, i) => take(`engine ${i}`, ['health'])));
    expect(asked.flat()).toHaveLength(1);
  });
});

describe('what depends on a lease', () => {
  test('is written by its holder alone', async () => {
    const [lease] = await take('a');
    if (!lease) throw new Error('no lease');
    const write = () => database.db.transaction((tx) => guardLease(tx, lease));
    await write();
    await runOutFor('b');
    await take('b');
    await expect(write()).rejects.toThrow(LeaseLost);
  });

  test('is not written any more once the lease was taken away', async () => {
    const [lease] = await take('a');
    if (!lease) throw new Error('no lease');
    await revokeLease(database.db, lease.name);
    await expect(database.db.transaction((tx) => guardLease(tx, lease))).rejects.toThrow('merging');
    expect((await take('a', ['merging']))[0]?.token).toBe(lease.token + 2);
  });
});
