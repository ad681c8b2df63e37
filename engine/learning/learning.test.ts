import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { giveUpLeases, type Lease, takeLeases } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import { addDelta, listDeltas, readLearnt, saveLearnt } from '#store/sources/health-deltas.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import type { Learner } from './learner.ts';
import { Learning } from './learning.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

/** Learns a sum of bytes. */
class Sum implements Learner {
  readonly kind = 'sum';
  value = 0;

  learn(data: Uint8Array): void {
    this.value += data[0] ?? 0;
  }

  async load(tx: Queryable): Promise<void> {
    this.value = Number((await readLearnt(tx, this.kind)) ?? 0);
  }

  async save(tx: Queryable): Promise<() => void> {
    await saveLearnt(tx, this.kind, this.value);
    return () => {};
  }
}

/** An engine that commits groups and learns. */
class Engine {
  readonly sum = new Sum();
  readonly learning: Learning;

  constructor(readonly name: string) {
    this.learning = new Learning(database, name, [this.sum]);
  }

  /** Commits a group that tells a number; `dies` before it has learnt from it. */
  async tell(value: number, dies = false): Promise<void> {
    const data = Uint8Array.of(value);
    const at = Date.now();
    const row = await database.db.transaction((tx) => addDelta(tx, { kind: 'sum', engine: this.name, at, data }));
    if (!dies) this.learning.committed(row.insertId, 'sum', data, at);
  }

  async lease(): Promise<Lease> {
    const [lease] = await takeLeases(database, ['health'], this.name);
    if (!lease) throw new Error('another engine has the lease');
    return lease;
  }
}

async function engines(...names: readonly string[]): Promise<readonly Engine[]> {
  const all = names.map((name) => new Engine(name));
  for (const { learning } of all) await learning.load();
  return all;
}

describe('several engines', () => {
  test('all learn from the deltas of one, once', async () => {
    const [a, b] = (await engines('a', 'b')) as [Engine, Engine];
    await a.tell(1);
    await b.tell(10);
    for (let i = 0; i < 3; i++) for (const { learning } of [a, b]) await learning.listen();
    expect([a.sum.value, b.sum.value]).toEqual([11, 11]);
  });

  test('one saves, and one that begins later knows it all, saved or not', async () => {
    const [a, b] = (await engines('a', 'b')) as [Engine, Engine];
    await a.tell(1);
    await b.tell(10);
    await a.learning.listen();
    await a.learning.save(await a.lease());
    await b.tell(20);
    expect(await readLearnt(database.db, 'sum')).toBe(11);
    const [c] = (await engines('c')) as [Engine];
    expect(c.sum.value).toBe(31);
    await c.learning.listen();
    await b.learning.listen();
    expect([b.sum.value, c.sum.value]).toEqual([31, 31]);
  });

  test('what the holder learnt and did not save before it died is learnt by the next one, once', async () => {
    const [a, b] = (await engines('a', 'b')) as [Engine, Engine];
    await a.tell(1);
    await a.learning.save(await a.lease());
    await a.tell(2);
    await a.tell(4, true);
    await b.learning.listen();
    await giveUpLeases(database, 'a');
    await b.learning.save(await b.lease());
    expect([b.sum.value, await readLearnt(database.db, 'sum')]).toEqual([7, 7]);
    expect(await listDeltas(database.db, 'b', true)).toEqual([]);
  });

  test('one that was asleep cannot save late', async () => {
    const [a, b] = (await engines('a', 'b')) as [Engine, Engine];
    const old = await a.lease();
    await a.learning.save(old);
    await a.tell(1);
    await giveUpLeases(database, 'a');
    await b.learning.listen();
    await b.learning.save(await b.lease());
    await expect(a.learning.save(old)).rejects.toThrow('health');
    expect(await readLearnt(database.db, 'sum')).toBe(1);
    // What it could not save is not lost to it, and not counted twice.
    await giveUpLeases(database, 'b');
    await a.learning.save(await a.lease());
    expect(await readLearnt(database.db, 'sum')).toBe(1);
  });
});

test('a group that is committed while everything is read anew counts once', async () => {
  const [a] = (await engines('a')) as [Engine];
  await a.tell(1);
  const loading = a.learning.load();
  await Promise.all([a.tell(2), a.tell(4), a.tell(8)]);
  await loading;
  await a.learning.listen();
  expect(a.sum.value).toBe(15);
});
