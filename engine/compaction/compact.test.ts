import pino from 'pino';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { maxSegmentEvents } from '#core/segments/segment.ts';
import type { Database } from '#store/database.ts';
import { insertSegments } from '#store/events/segments.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { Measures } from '../measures/measures.ts';
import type { Pools } from '../workers/pools.ts';
import type { CompactResult, CompactTask } from '../workers/tasks/compact.ts';
import { Compaction, enough } from './compact.ts';

const log = pino({ level: 'silent' });
let database: Database;
let measures: Measures;
let tasks: CompactTask[];
let compaction: Compaction | undefined;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  measures = new Measures();
  tasks = [];
  compaction = undefined;
});

afterEach(() => database.close());

const all = async ({ segments }: CompactTask): Promise<CompactResult> => ({ merged: segments.length });

/** Threads that note what they are to merge, and merge it or not. */
function pools(done: (task: CompactTask) => Promise<CompactResult> = all): Pools {
  const compact = (task: CompactTask): Promise<CompactResult> => {
    tasks.push(task);
    return done(task);
  };
  return { background: compact } as unknown as Pools;
}

/** Stores some segments of a tier, source and slot, whose last event is so many milliseconds ago. */
async function add(
  count: number,
  age: number,
  more: { tier?: string; source?: string; events?: number; revision?: number } = {},
) {
  const { tier = 'rest', source = 'gates', events = 100, revision = 1 } = more;
  const to = Date.now() - age;
  const facts = { events, weight: events, bytes: events * 100, from: to - 1_000, to };
  const one = { tier, source, slot: 0, revision, facts, parts: [{ name: 'whole', data: Uint8Array.of(1) }] };
  await insertSegments(
    database.db,
    Array.from({ length: count }, () => one),
  );
}

/** Revisions in which metrics began. */
let begins: readonly number[] = [];
/** The last revision that was looked at for them. */
let upTo = 9;

/** A round, `later` milliseconds from now, of the same compaction as the rounds before unless it merges in another way. */
const round = (of?: Pools, later = 0): Promise<number> => {
  if (of || !compaction) compaction = new Compaction(database, of ?? pools(), measures, log);
  return compaction.round({ upTo, revisions: begins }, Date.now() + later);
};

test('small ones of a kind are merged at once, with the bytes of all', async () => {
  await add(enough + 2, 0);
  expect(await round()).toBe(enough + 2);
  expect(tasks).toMatchObject([{ tier: 'rest', source: 'gates', slot: 0 }]);
  expect(tasks[0]?.segments).toHaveLength(enough + 2);
  expect(tasks[0]?.segments[0]).toMatchObject({ revision: 1, bytes: 10_000, events: 100 });
  expect(measures.compactions).toBe(enough + 2);
});

test('few wait for others, until their slot has ended; two are left alone', async () => {
  await add(5, 0);
  await add(2, 300_000, { source: 'tides' });
  expect(await round()).toBe(0);
  await add(4, 300_000, { source: 'notices' });
  expect(await round()).toBe(4);
  expect(tasks.map(({ source }) => source)).toEqual(['notices']);
});

test('kinds are never mixed, and large ones stay as they are', async () => {
  await add(enough, 0);
  await add(enough, 0, { tier: 'long' });
  await add(enough, 0, { source: 'tides' });
  await add(20, 0, { source: 'full', events: 40_000 });
  await round();
  expect(tasks.map(({ tier, source }) => `${tier} ${source}`).sort()).toEqual([
    'long gates',
    'rest gates',
    'rest tides',
  ]);
});

test('what was processed before a metric began stays apart from what was since', async () => {
  await add(enough, 0);
  await add(6, 0, { revision: 2 });
  await add(6, 0, { revision: 4 });
  await add(enough, 0, { revision: 5 });
  begins = [4];
  expect(await round()).toBe(enough + 6);
  expect(await round()).toBe(enough + 6);
  begins = [];
  expect(tasks.map(({ segments }) => segments.map(({ revision }) => revision))).toEqual([
    [...Array(enough).fill(1), ...Array(6).fill(2)],
    [...Array(enough).fill(1), ...Array(6).fill(2)],
  ]);
});

test('segments of a revision that is not looked at yet wait for it', async () => {
  await add(enough, 0, { revision: upTo + 1 });
  expect(await round()).toBe(0);
  upTo++;
  expect(await round(undefined, 60_000)).toBe(enough);
  upTo--;
});

test('no merged one grows beyond what a segment may hold', async () => {
  await add(30, 0, { events: 30_000 });
  await round();
  const [{ segments = [] } = {}] = tasks;
  expect(segments.reduce((sum, { events }) => sum + events, 0)).toBeLessThanOrEqual(maxSegmentEvents);
  expect(segments.length).toBeGreaterThan(1);
});

test('one that has too many fields to be merged is left alone, and those behind it are merged', async () => {
  await add(enough + 2, 0);
  const wide = pools(async (task) =>
    tasks.length === 1 ? { merged: 0, alone: task.segments[0]?.id } : await all(task),
  );
  expect(await round(wide)).toBe(0);
  expect(await round()).toBe(enough + 1);
  expect(tasks[1]?.segments[0]?.id).toBe(tasks[0]?.segments[1]?.id);
});

test('while a slot fills, few events are not put together with many', async () => {
  await add(1, 0, { events: 20_000 });
  await add(enough, 0, { events: 2 });
  await add(1, 0, { events: 15 });
  expect(await round()).toBe(enough + 1);
  expect(tasks[0]?.segments.map(({ events }) => events)).toEqual([...Array(enough).fill(2), 15]);
});

test('what is left of a slot that still filled is put together once it has ended', async () => {
  await add(1, 300_000, { events: 2 });
  await add(1, 200_000, { events: 600 });
  await add(1, 0, { events: 20_000 });
  expect(await round()).toBe(0);
  expect(await round(undefined, 130_000)).toBe(3);
});

test('once a slot has ended all that is left of it is put together', async () => {
  await add(1, 300_000, { events: 20_000 });
  await add(3, 300_000, { events: 2 });
  expect(await round()).toBe(4);
});

test('what could not be merged counts for nothing and does not end the engine', async () => {
  await add(enough, 0);
  expect(await round(pools(async () => ({ merged: 0 })))).toBe(0);
  expect(await round(pools(() => Promise.reject(new Error('away'))))).toBe(0);
  expect(measures.compactions).toBe(0);
});

test('a slot that cannot be merged waits longer and longer, and holds up no other', async () => {
  await add(enough, 0, { source: 'broken' });
  const failing = pools(async (task) => {
    if (task.source === 'broken') throw new Error('unreadable');
    return await all(task);
  });
  expect(await round(failing)).toBe(0);
  await add(enough, 0, { source: 'tides' });
  expect(await round()).toBe(enough);
  for (const later of [1_000, 9_000, 11_000, 15_000, 40_000, 50_000]) await round(undefined, later);
  // At once, after 10 s, and after 20 s more.
  expect(tasks.filter(({ source }) => source === 'broken').length).toBe(3);
  expect(measures.failedCompactions).toBe(3);
});

test('a round is due after sixty new segments or twenty seconds', async () => {
  const engine = new Measures();
  const resting = new Compaction(database, pools(), engine, log);
  const now = Date.now();
  expect(resting.isDue(now)).toBe(true);
  await resting.round({ upTo: 1, revisions: [] }, now);
  expect(resting.isDue(now + 3_000)).toBe(false);
  expect(resting.isDue(now + 20_000)).toBe(true);
  engine.segments += 59;
  expect(resting.isDue(now + 3_000)).toBe(false);
  engine.segments += 1;
  expect(resting.isDue(now + 3_000)).toBe(true);
});
