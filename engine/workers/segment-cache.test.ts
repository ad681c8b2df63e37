import { deflateRawSync } from 'node:zlib';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { allColumns, encodeSegment } from '#core/segments/segment.ts';
import { batchOf } from '#core/testing/batch-of.ts';
import type { Database } from '#store/database.ts';
import { insertSegments, listSegments, removeExpired } from '#store/segments.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { SegmentCache, type SegmentRef } from './segment-cache.ts';

let database: Database;
let ref: SegmentRef;

const severities = { ...allColumns, attributes: new Set<string>(), body: false, emitter: false, delay: false };

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  const { facts, parts } = encodeSegment(batchOf([{ msg: 'gate open', pier: 4 }, { msg: 'gate shut' }]), 'columns');
  const deflated = parts.map(({ name, data }) => ({ name, data: deflateRawSync(data) }));
  await insertSegments(database.db, [{ tier: 'rest', source: 'test', slot: 0, revision: 1, facts, parts: deflated }]);
  const [stored] = await listSegments(database, { from: 0, to: Number.MAX_SAFE_INTEGER }, undefined);
  if (!stored) throw new Error('the segment is not there');
  ref = stored;
});

afterEach(() => database.close());

test('columns are read as they are wanted, those that were read before are not read again', async () => {
  const cache = new SegmentCache(database);
  const [some] = await cache.batches([ref], () => severities);
  expect([some?.rows, some?.attributes.size, some?.body.bytes.length]).toEqual([2, 0, 0]);
  const [all] = await cache.batches([ref], () => allColumns);
  expect([...(all?.attributes.get('pier')?.number?.values ?? [])]).toEqual([4, Number.NaN]);
  await removeExpired(database, 'rest', { from: 0, before: Number.MAX_SAFE_INTEGER });
  const [held] = await cache.batches([ref], () => allColumns);
  expect(held?.attributes.get('pier')).toEqual(all?.attributes.get('pier'));
});

test('a segment that is removed before all wanted columns were read is absent, not one of empty columns', async () => {
  const cache = new SegmentCache(database);
  await cache.batches([ref], () => severities);
  await removeExpired(database, 'rest', { from: 0, before: Number.MAX_SAFE_INTEGER });
  expect(await cache.batches([ref], () => allColumns)).toEqual([undefined]);
});
