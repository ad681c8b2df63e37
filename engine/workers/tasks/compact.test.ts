import { deflateRawSync } from 'node:zlib';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { packSegment } from '#core/segments/pack.ts';
import { allColumns } from '#core/segments/segment.ts';
import { batchOf } from '#core/testing/batch-of.ts';
import type { Database } from '#store/database.ts';
import { insertSegments, smallSegments } from '#store/events/segments.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { SegmentCache } from '../segment-cache.ts';
import { compact } from './compact.ts';

const place = { tier: 'rest', source: 'test', slot: 0 };
let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

/** Stores a segment of events that have one field each, of so many different ones. */
async function add(rows: number, fields: number, prefix: string, revision = 1): Promise<void> {
  const batch = batchOf(Array.from({ length: rows }, (_, i) => ({ [`${prefix}${i % fields}`]: i })));
  const deflate = (data: Uint8Array): Uint8Array => deflateRawSync(data, { level: 1 });
  await insertSegments(database.db, [packSegment(batch, { ...place, revision, layout: 'whole', deflate })]);
}

const stored = () => smallSegments(database, place, 1e6);
const merge = async () => compact(database, { kind: 'compact', ...place, segments: await stored(), now: Date.now() });

test('segments become one with all their events, the sum of their bytes and the last of their revisions', async () => {
  await add(30, 3, 'a', 1);
  await add(20, 2, 'b', 4);
  const before = await stored();
  expect(await merge()).toEqual({ merged: 2 });
  const after = await stored();
  const bytes = before.reduce((sum, segment) => sum + segment.bytes, 0);
  expect(after).toMatchObject([{ events: 50, bytes, revision: 4 }]);
  const [batch] = await new SegmentCache(database).batches(after, () => allColumns);
  expect([...(batch?.attributes.keys() ?? [])].sort()).toEqual(['a0', 'a1', 'a2', 'b0', 'b1']);
  expect([...(batch?.attributes.get('b1')?.number?.values ?? [])].filter((value) => value === value)).toHaveLength(10);
});

test('as many as have not too many fields together; then each stays alone', async () => {
  for (const prefix of ['a', 'b', 'c']) await add(8_000, 500, prefix);
  expect(await merge()).toEqual({ merged: 2 });
  const [third, both] = await stored();
  expect([third?.events, both?.events]).toEqual([8_000, 16_000]);
  expect(await merge()).toEqual({ merged: 0, alone: third?.id });
  expect(await stored()).toHaveLength(2);
});

test('where others were faster, nothing is merged', async () => {
  for (const prefix of ['a', 'b']) await add(10, 2, prefix);
  const segments = await stored();
  const task = { kind: 'compact', ...place, segments, now: Date.now() } as const;
  expect(await compact(database, task)).toEqual({ merged: 2 });
  expect(await compact(database, task)).toEqual({ merged: 0 });
  expect((await stored()).map(({ events }) => events)).toEqual([20]);
});
