import { eq, sql } from 'drizzle-orm';
import { createPool, type PoolConnection } from 'mysql2';
import { afterEach, beforeEach, expect, inject, test, vi } from 'vitest';
import { counters } from './cluster/schema.ts';
import { type Database, later } from './database.ts';
import { intakeKeys } from './events/schema.ts';
import { StoreFault } from './fault.ts';
import { addDelta } from './sources/health-deltas.ts';
import { deltas } from './sources/schema.ts';
import { emptyDatabase } from './testing/database.ts';
import { Turns } from './turns.ts';
import { addCapUse } from './volume/cap-days.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

const key = (name: string) => ({ source: 's', key: name, accepted: 1, rejected: 0, at: 1 });
const row = (text: string) => ({ kind: 'k', engine: 'e', at: 1, data: new TextEncoder().encode(text) });

async function names(): Promise<readonly string[]> {
  const rows = await database.db.select().from(counters);
  return rows.map(({ name }) => name).sort();
}

test('statements that nobody waits for run in their order, before the one that somebody waits for', async () => {
  const found = await database.db.transaction(async (tx) => {
    await later(tx, tx.insert(counters).values({ name: 'a', value: 1 }));
    await later(tx, tx.update(counters).set({ value: sql`${counters.value} * 10 + 2` }));
    const [read] = await tx.select().from(counters).where(eq(counters.name, 'a'));
    await later(tx, tx.update(counters).set({ value: sql`${counters.value} * 10 + 3` }));
    return read?.value;
  });
  expect(found).toBe(12);
  expect(await database.db.select().from(counters)).toEqual([{ name: 'a', value: 123 }]);
});

test('ids are there once the transaction has committed', async () => {
  const rows = await database.db.transaction(async (tx) => [
    await addDelta(tx, row("it's; drop table `sender_delta`; -- \\")),
    await addDelta(tx, row('b')),
  ]);
  const stored = await database.db.select().from(deltas);
  expect(stored.map(({ id }) => id)).toEqual(rows.map(({ insertId }) => insertId));
  expect(new TextDecoder().decode(stored[0]?.data)).toBe("it's; drop table `sender_delta`; -- \\");
});

test.each([
  ['by the next statement', true],
  ['at the end', false],
])('one that fails has nothing stored, and says of which table it was: seen %s', async (_, isAsked) => {
  await database.db.insert(intakeKeys).values(key('known'));
  const work = database.db.transaction(async (tx) => {
    await later(tx, tx.insert(counters).values({ name: 'before', value: 1 }));
    await later(tx, tx.insert(intakeKeys).values(key('known')));
    await later(tx, tx.insert(counters).values({ name: 'after', value: 1 }));
    if (isAsked) await tx.select().from(deltas);
  });
  const fault = await work.catch((error: unknown) => error);
  expect(fault).toBeInstanceOf(StoreFault);
  expect(fault).toMatchObject({ kind: 'repeated', table: 'intake_key' });
  expect(await names()).toEqual([]);
  // The connections are as they were.
  await Promise.all(
    Array.from({ length: 8 }, (_, i) =>
      database.db.transaction((tx) => later(tx, tx.insert(counters).values({ name: `c${i}`, value: 1 }))),
    ),
  );
  expect(await names()).toHaveLength(8);
});

test('a transaction whose work ends with an error sends nothing of what was put off', async () => {
  const failed = database.db.transaction(async (tx) => {
    await later(tx, tx.insert(counters).values({ name: 'a', value: 1 }));
    throw new Error('no');
  });
  await expect(failed).rejects.toThrow('no');
  const afterOne = database.db.transaction(async (tx) => {
    await tx.insert(counters).values({ name: 'b', value: 1 });
    await later(tx, tx.insert(counters).values({ name: 'c', value: 1 }));
    throw new Error('no');
  });
  await expect(afterOne).rejects.toThrow('no');
  expect(await names()).toEqual([]);
});

test('what a day of a tier with a cap has used is answered in the turn that adds to it', async () => {
  const use = {
    tier: 't',
    day: 0,
    events: 6,
    bytes: 1,
    overEvents: 0,
    overBytes: 0,
    unit: 'events',
    amount: 10,
  } as const;
  await database.db.transaction((tx) => addCapUse(tx, [use]));
  await expect(database.db.transaction((tx) => addCapUse(tx, [use]))).rejects.toThrow('t has kept what its day allows');
  await database.db.transaction((tx) => addCapUse(tx, [{ ...use, events: 4 }]));
});

test('what is put off goes in one turn, or in some where there is much of it', async () => {
  const pool = createPool({ uri: inject('mariadb'), connectionLimit: 1, multipleStatements: true });
  const connection = await new Promise<PoolConnection>((resolve, reject) => {
    pool.getConnection((error, given) => (error ? reject(error) : resolve(given)));
  });
  const sent = vi.spyOn(connection, 'query');
  const turns = new Turns(connection);
  await turns.putOff('set @sum = 0');
  for (let i = 1; i <= 20; i++) await turns.putOff('set @sum = @sum + ?', [i]);
  const [rows] = await turns.connection.query({ sql: 'select @sum as sum' }, []);
  expect(rows).toEqual([{ sum: 210 }]);
  expect(sent).toHaveBeenCalledTimes(1);
  for (let i = 0; i < 30; i++) await turns.putOff('set @text = ?', ['x'.repeat(100_000)]);
  await turns.commit();
  expect(sent).toHaveBeenCalledTimes(1 + 3 + 1);
  connection.release();
  pool.end(() => {});
});
