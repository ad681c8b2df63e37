import { deflateRawSync } from 'node:zlib';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { SearchProgress } from '#core/answers/search.ts';
import type { EventBatch } from '#core/events/batch.ts';
import { fieldSummaries } from '#core/search/field-summary.ts';
import { packSegment } from '#core/segments/pack.ts';
import { summaryTable } from '#core/summaries/summary-table.ts';
import { arrival, batchOf } from '#core/testing/batch-of.ts';
import { searchBatches } from '#core/testing/search-batches.ts';
import type { Database } from '#store/database.ts';
import { insertSegments } from '#store/events/segments.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import type { Pools } from '../workers/pools.ts';
import { type QueryText, queryOf } from '../workers/query.ts';
import type { ReadKind, ReadTask } from '../workers/read.ts';
import { SegmentCache } from '../workers/segment-cache.ts';
import { fetch } from '../workers/tasks/fetch.ts';
import { find } from '../workers/tasks/find.ts';
import { HeaderCache } from './header-cache.ts';
import { runSearch, type SearchRun } from './run-search.ts';

let database: Database;
let segments: { readonly batch: EventBatch; readonly tier: string }[] = [];
let opened: string[] = [];

const tiers = ['rest', 'low'];
const random = (
  (seed) => () =>
    (seed = Math.imul(seed ^ (seed >>> 15), 0x2c1b3c6d) + 0x9e3779b9) >>> 0
)(7);
const pick = <T>(values: readonly T[]): T => values[random() % values.length] as T;

/** Events of some minutes of a source, of which one may stand for several. */
function madeUp(source: string, from: number, count: number): EventBatch {
  const batch = batchOf(
    Array.from({ length: count }, (_, i) => ({
      // No two events have the same time, so that there is one order of the newest.
      time: new Date(from + i * 1_009).toISOString(),
      level: pick(['info', 'info', 'warn', 'error']),
      msg: `passenger u${random() % 90} ${pick(['boards', 'leaves', 'waits at gate_4'])}`,
      host: pick(['a', 'b']),
      status: pick([200, 200, 200, 404, 503]),
      took: (random() % 1_000) / 1_000,
      ticket: `T${random() % 100_000}`,
      ...(random() % 3 === 0 && { lane: pick(['north', 'south']) }),
    })),
    source,
  );
  const weights = [1, 1, 10];
  return random() % 2 ? batch : { ...batch, weight: batch.weight.map(() => pick(weights)) };
}

beforeAll(async () => {
  database = await emptyDatabase(inject('mariadb'));
  const start = arrival - 3 * 3_600_000;
  segments = Array.from({ length: 24 }, (_, i) => ({
    batch: madeUp(pick(['gates', 'tides', 'payments']), start + i * 400_000 + (i % 3), 120 + (random() % 500)),
    tier: pick(tiers),
  }));
  const stored = segments.map(({ batch, tier }, i) => {
    const layout = i % 4 === 0 ? 'whole' : 'columns';
    const segment = packSegment(batch, { tier, slot: 0, revision: 1, layout, deflate: (data) => deflateRawSync(data) });
    if (i % 7 !== 3) return segment;
    // As segments of old were stored, without statistics.
    const { header: _, ...bare } = segment;
    return { ...bare, parts: bare.parts.filter(({ name }) => !name.startsWith('filter:')) };
  });
  await insertSegments(database.db, stored);
});

afterAll(() => database.close());

/** Two lanes, worked on in this thread. */
function pools(): Pools {
  const caches = [new SegmentCache(database), new SegmentCache(database)];
  const work = async (lane: number, task: ReadTask<ReadKind>): Promise<unknown> => {
    const cache = caches[lane % 2] as SegmentCache;
    if (task.kind !== 'find' && task.kind !== 'fetch') throw new Error(`no work for ${task.kind}`);
    opened.push(...task.segments.map(({ id }) => `${task.kind} ${id}`));
    return task.kind === 'find' ? await find(cache, task) : await fetch(cache, task);
  };
  return { readLanes: 2, read: work } as unknown as Pools;
}

const fleets = new Map([['gates', ['piers']]]);
const currentShape = (id: string): string => id;
const names = { sources: ['gates', 'tides', 'payments', 'ledger'], tiers, fleets: ['piers'] };

async function search(query: QueryText, run: Partial<SearchRun> = {}) {
  opened = [];
  const setting = { database, pools: pools(), headers: new HeaderCache(database), fleets, names, currentShape };
  return await runSearch(setting, query, { signal: new AbortController().signal, progress: () => {}, ...run });
}

const all: QueryText = {
  condition: '',
  summary: '',
  from: arrival - 86_400_000,
  to: arrival + 1,
  limit: 40,
  buckets: 60,
  fields: true,
};

const condition = fc.constantFrom(
  '',
  'source = tides',
  'source = nobody',
  'fleet = piers',
  'tier = low or status = 503',
  'status >= 500',
  'status > 503',
  'not status = 200',
  'severity >= warn',
  'severity = fatal',
  'boards',
  'departs',
  '"u7 waits at"',
  'ticket = T4711',
  'lane = north',
  'has lane status = 404',
  'not has lane',
  'took > 0.99',
  'time > 2026-11-24T07:10 source = gates',
  'received >= 2026-11-24T09:00',
  'emitter = a or boards',
  'who = u7',
  'not verb = boards status = 200',
  'severity >= warn or nr > 60',
  'raw_bytes > 90B',
  'raw_bytes in 80..100 or lane = north',
  'not has raw_bytes',
);
const summary = fc.constantFrom(
  '',
  'count()',
  'count() by source',
  'count() by tier, severity every 10m',
  'count(), rate() by Source every 1h',
  'count() by status every 90s',
  'p95(took), distinct(ticket) by source',
  'first(ticket), last(time) by lane',
  'count(), max(nr) by verb',
  'sum(raw_bytes), max(raw_bytes) by source',
);
const query = fc.record({
  condition,
  summary,
  from: fc.constantFrom(0, arrival - 86_400_000, arrival - 7_300_123, arrival - 3_600_000),
  to: fc.constantFrom(arrival + 86_400_000, arrival - 1_800_001, arrival - 3_000_000),
  limit: fc.constantFrom(0, 1, 40, 1_000),
  order: fc.constantFrom('newest' as const, 'oldest' as const),
  buckets: fc.constantFrom(0, 7, 60, 300),
  fields: fc.boolean(),
  extraction: fc.constantFrom(
    undefined,
    { template: 'passenger {who} {verb}', from: 'body' },
    { template: 'passenger u{nr:int} boards', from: 'body' },
    { template: 'T{nr:int}', from: 'ticket' },
  ),
});

test('what two passes find is what looking at every event finds', async () => {
  await fc.assert(
    fc.asyncProperty(query, async (text) => {
      const asked = queryOf(text);
      const expected = searchBatches(
        asked,
        segments.map(({ batch }) => batch),
        { now: Date.now(), tierOf: (segment) => segments[segment]?.tier ?? '', fleets },
      );
      const answer = await search(text);
      expect(answer.total).toBe(expected.total);
      expect(answer.estimated).toBe(expected.total !== expected.stored);
      expect(answer.histogram.counts.flat()).toEqual([...expected.histogram]);
      expect(answer.events.map(plain)).toEqual(expected.events.map(plain));
      expect(answer.fieldsOf).toBe(expected.fieldTotal);
      expect(sortedFields(answer.fields)).toEqual(sortedFields(fieldSummaries(expected.fields, expected.fieldTotal)));
      if (asked.summary && expected.summary)
        expect(sortedRows(answer.summary?.rows)).toEqual(
          sortedRows(summaryTable(asked.summary, expected.summary, asked.window, Date.now()).rows),
        );
    }),
    { numRuns: 150 },
  );
});

test('what is not counted is read no further than its lines lie, and these are the same', async () => {
  await fc.assert(
    fc.asyncProperty(query, async (text) => {
      const counted = await search(text);
      const lines = await search({ ...text, summary: '', buckets: 0, fields: false, count: false });
      expect(lines.events.map(plain)).toEqual(counted.events.map(plain));
      expect(lines.total).toBe(lines.events.reduce((sum, { weight }) => sum + weight, 0));
      expect(lines.unread).toBe(0);
    }),
    { numRuns: 60 },
  );
});

/** An event without what depends on the order of columns. */
function plain({ attributes, ...event }: Awaited<ReturnType<typeof search>>['events'][number]) {
  return { ...event, attributes: Object.fromEntries(Object.entries(attributes).sort()) };
}

const sortedFields = (fields: ReturnType<typeof fieldSummaries>) =>
  fields
    .map(({ name, share, distinct, many, range }) => ({
      name,
      share: share.toFixed(9),
      distinct,
      many,
      low: range?.low,
    }))
    .sort((a, b) => a.name.localeCompare(b.name));

const sortedRows = (rows: readonly (readonly unknown[])[] = []) =>
  rows.map((row) => JSON.stringify(row.map((cell) => (typeof cell === 'number' ? +cell.toPrecision(9) : cell)))).sort();

test('what can hardly be meant is reported, by what the events of the window have', async () => {
  const { doubts, stored } = await search({ ...all, condition: 'source = tids', from: arrival - 1_000 });
  expect(stored).toMatchObject({ segments: 0 });
  expect(stored.lastBefore).toBeGreaterThan(arrival - 3_600_000);
  expect(doubts).toMatchObject([{ in: 'condition', suggestion: 'tides' }]);
  const known = { ...all, from: arrival - 10_500_000, to: arrival - 9_700_000 };
  expect((await search({ ...known, condition: 'lane = x status > 2 took < 9' })).doubts).toEqual([]);
});

test('what cannot hold a match is not opened, and what is known is not looked at', async () => {
  const known = 24 - [3, 10, 17].length;
  await search({ ...all, condition: 'source = nobody' });
  expect(opened).toEqual([]);
  await search({ ...all, condition: 'status > 503' });
  expect(opened.length).toBe(24 - known);
  await search({ ...all, limit: 0, fields: false, summary: 'count() by source every 1h' });
  expect(opened.length).toBe(24 - known);
  await search({ ...all, fields: false });
  expect(opened.filter((what) => what.startsWith('fetch')).length).toBeLessThanOrEqual(4);
  expect(opened.filter((what) => what.startsWith('find')).length).toBeLessThan(14);
});

test('the newest lines are sent before everything was looked at', async () => {
  const reported: SearchProgress[] = [];
  const answer = await search(
    { ...all, condition: 'boards', fields: false },
    { progress: (one) => reported.push(one) },
  );
  const first = reported.find(({ events }) => events);
  expect(first?.events?.map(plain)).toEqual(answer.events.map(plain));
  expect(reported.at(-1)?.histogram).toEqual(answer.histogram);
});

test('the oldest lines are sent as early as the newest', async () => {
  const reported: SearchProgress[] = [];
  const asked: QueryText = { ...all, condition: 'boards', fields: false, order: 'oldest' };
  const answer = await search(asked, { progress: (one) => reported.push(one) });
  expect(reported.find(({ events }) => events)?.events?.map(plain)).toEqual(answer.events.map(plain));
  expect(answer.events[0]?.time).toBeLessThan(answer.events.at(-1)?.time ?? 0);
});

test('a search that takes too long answers with what it has, and says what it did not read', async () => {
  const answer = await search({ ...all, condition: 'boards' }, { deadline: Date.now() - 1 });
  expect(answer).toMatchObject({ total: 0, unread: answer.segments });
  expect((await search({ ...all, condition: 'boards' })).unread).toBe(0);
});

test('one that nobody waits for any more ends', async () => {
  const abort = new AbortController();
  abort.abort();
  await expect(search({ ...all, condition: 'boards' }, { signal: abort.signal })).rejects.toThrow('abort');
});
