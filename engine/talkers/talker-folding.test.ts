import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { day, hour, minute } from '#core/events/time-units.ts';
import { labelsOfId } from '#core/metrics/labels.ts';
import { compileRanking, countsOf } from '#core/plan/parts/rankings/ranking.ts';
import type { RankingDocument } from '#core/plan/parts/rankings/rankings-shape.ts';
import { RankedBatch } from '#core/talkers/ranked-batch.ts';
import { TalkerAccumulator } from '#core/talkers/talker-accumulator.ts';
import { packTalkerDeltas } from '#core/talkers/talker-delta.ts';
import { fiveMinutes, type TalkerLevel, talkerDays, talkerHours } from '#core/talkers/talker-levels.ts';
import { batchOf } from '#core/testing/batch-of.ts';
import { giveUpLeases, type Lease, takeLeases } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { addTalkerDeltas, findRanking, readTalkerDeltas, readTalkerSketches } from '#store/metrics/talkers.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { readStored } from './stored-sketch.ts';
import { foldTalkers } from './talker-folding.ts';
import { expireTalkers, rollUpTalkers } from './talker-roll-ups.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

const ranking: RankingDocument = { id: 'cranes', title: 'Cranes', when: '', by: ['crane'], measure: 'events' };

/** Has a group of events counted, each of a crane at a time. */
async function tell(events: readonly (readonly [crane: string, time: number])[], now = Date.now()): Promise<void> {
  const take = new TalkerAccumulator(compileRanking(ranking));
  const batch = batchOf(
    events.map(([crane]) => ({ crane })),
    'cranes',
  );
  take.add(new RankedBatch({ ...batch, time: Float64Array.from(events, ([, time]) => time) }, { now }));
  await addTalkerDeltas(database.db, packTalkerDeltas([take]));
}

async function leaseOf(engine: string): Promise<Lease> {
  const [lease] = await takeLeases(database, ['talkers'], engine);
  if (!lease) throw new Error('another engine has the lease');
  return lease;
}

/** What is stored at a level: step, who, how much, both parts of a step together. */
async function stored(level: TalkerLevel): Promise<readonly (readonly [number, string, number])[]> {
  const number = (await findRanking(database.db, ranking.id, countsOf(ranking))) ?? 0;
  const range = { ranking: number, level: level.level, from: 0, to: Date.now() + day };
  const sums = new Map<string, readonly [number, string, number]>();
  for (const { start, data } of await readTalkerSketches(database.db, range)) {
    const { ids, counts } = readStored(data, start);
    ids.forEach((id, i) => {
      const [who] = labelsOfId(id);
      const known = sums.get(`${start} ${who}`)?.[2] ?? 0;
      sums.set(`${start} ${who}`, [start, String(who), known + (counts[i] as number)]);
    });
  }
  return [...sums.values()].sort((a, b) => a[0] - b[0] || (a[1] < b[1] ? -1 : 1));
}

const hourAgo = (ago: number): number => (Math.floor(Date.now() / hour) - ago) * hour;
const dayOf = (time: number): number => Math.floor(time / day) * day;

test('what groups reported is put into steps once, whoever holds the lease, and one that was asleep cannot do it late', async () => {
  const at = hourAgo(3);
  const old = await leaseOf('a');
  await tell([
    ['north', at],
    ['north', at + minute],
    ['south', at + 6 * minute],
  ]);
  expect(await foldTalkers(database, old, Date.now())).toBe(1);
  await tell([['north', at]]);
  await giveUpLeases(database, 'a');
  const lease = await leaseOf('b');
  await expect(foldTalkers(database, old, Date.now())).rejects.toThrow('talkers');
  expect(await foldTalkers(database, lease, Date.now())).toBe(1);
  expect(await foldTalkers(database, lease, Date.now())).toBe(0);
  expect(await readTalkerDeltas(database.db, 10)).toEqual([]);
  expect(await stored(fiveMinutes)).toEqual([
    [at, 'north', 3],
    [at + 5 * minute, 'south', 1],
  ]);
});

describe('coarser steps', () => {
  test('are what they are made of, however late it comes; what is over goes, and nothing else', async () => {
    const at = hourAgo(30);
    const lease = await leaseOf('a');
    await tell([
      ['north', at],
      ['south', at + 11 * minute],
      ['north', at + 2 * hour],
    ]);
    await foldTalkers(database, lease, Date.now());
    const hours = [
      [at, 'north', 1],
      [at, 'south', 1],
      [at + 2 * hour, 'north', 1],
    ];
    for (let i = 0; i < 2; i++) {
      await rollUpTalkers(database, lease, Date.now());
      expect(await stored(talkerHours)).toEqual(hours);
      expect((await stored(talkerDays)).reduce((sum, [, , amount]) => sum + amount, 0)).toBe(3);
    }
    await tell([['south', at + 12 * minute]]);
    await foldTalkers(database, lease, Date.now());
    await rollUpTalkers(database, lease, Date.now());
    expect((await stored(talkerHours))[1]).toEqual([at, 'south', 2]);

    // Ten days later five minutes are gone, and late events still count, once.
    const later = Date.now() + 10 * day;
    await expireTalkers(database, later);
    expect(await stored(fiveMinutes)).toEqual([]);
    await tell([['south', at + 12 * minute]], later);
    await foldTalkers(database, lease, later);
    for (let i = 0; i < 2; i++) await rollUpTalkers(database, lease, later);
    expect((await stored(talkerHours))[1]).toEqual([at, 'south', 3]);
    const days = await stored(talkerDays);
    expect(days.reduce((sum, [, , amount]) => sum + amount, 0)).toBe(5);

    // A hundred days later hours are gone; what comes then goes to its day.
    const last = Date.now() + 100 * day;
    await expireTalkers(database, last);
    expect(await stored(talkerHours)).toEqual([]);
    await tell([['south', at]], last);
    await foldTalkers(database, lease, last);
    await rollUpTalkers(database, lease, last);
    expect((await stored(talkerDays)).reduce((sum, [, , amount]) => sum + amount, 0)).toBe(6);
    await expireTalkers(database, Date.now() + 500 * day);
    expect(await stored(talkerDays)).toEqual([]);
  });

  test('tell since when someone is there, unless it was away for a week', async () => {
    const lease = await leaseOf('a');
    const today = dayOf(Date.now()) - 3 * day;
    const days = [40, 36, 30, 12, 10, 0];
    await tell(
      days.flatMap((ago) => [['north', today - ago * day + hour] as const, ['all', today - ago * day] as const]),
    );
    await foldTalkers(database, lease, Date.now());
    for (let i = 0; i < 3; i++) await rollUpTalkers(database, lease, Date.now());
    const number = (await findRanking(database.db, ranking.id, countsOf(ranking))) ?? 0;
    const range = { ranking: number, level: talkerDays.level, from: 0, to: Date.now() };
    const sinceOf = (await readTalkerSketches(database.db, range)).map(({ start, data }) => {
      const { ids, since } = readStored(data, start);
      const place = ids.findIndex((id) => labelsOfId(id)[0] === 'north');
      return [(today - start) / day, (today - (since?.[place] ?? 0)) / day];
    });
    const exact = (ago: number): number => ago - 1 / 24;
    expect(sinceOf).toEqual([
      [40, exact(40)],
      [36, exact(40)],
      [30, exact(40)],
      [12, exact(12)],
      [10, exact(12)],
      [0, exact(0)],
    ]);
  });
});
