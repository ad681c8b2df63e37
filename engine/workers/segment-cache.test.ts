import { deflateRawSync } from 'node:zlib';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { allColumns, encodeSegment } from '#core/segments/segment.ts';
import { batchOf } from '#core/testing/batch-of.ts';
import type { Database } from '#store/database.ts';
import { insertSegments, listSegments, removeExpired } from '#store/events/segments.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { SegmentCache, type SegmentRef } from './segment-cache.ts';

let database: Database;
let ref: SegmentRef;

const severities = {
  ...allColumns,
  attributes: new Set<string>(),
  body: false,
  emitter: false,
  received: false,
  size: false,
};

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
  const [batch] = await cache.batches([ref], () => allColumns);
  expect(batch?.attributes.get('pier')).toEqual(all?.attributes.get('pier'));
});

test('columns that are opened later count, and no more is kept than there is room for', async () => {
  const wide = encodeSegment(batchOf([{ msg: 'gate '.repeat(1_000) }]), 'columns');
  const parts = wide.parts.map(({ name, data }) => ({ name, data: deflateRawSync(data) }));
  const place = { tier: 'rest', source: 'wide', slot: 0, revision: 1, facts: wide.facts, parts };
  await insertSegments(database.db, [place, place]);
  const listed = await listSegments(database, { from: 0, to: Number.MAX_SAFE_INTEGER }, undefined);
  const stored = listed.filter(({ source }) => source === 'wide');
  // There is room for the narrow columns of both, and for the bodies of one.
  const cache = new SegmentCache(database, 10_000);
  await cache.batches(stored, () => severities);
  const bodies = (await cache.batches(stored, () => allColumns)).map((batch) => batch?.body.bytes.length);
  expect(bodies).toEqual([5_000, 5_000]);
  await removeExpired(database, 'rest', { from: 0, before: Number.MAX_SAFE_INTEGER });
  const left = await cache.batches(stored, () => severities);
  expect(left.map((batch) => batch?.rows)).toEqual([undefined, 1]);
});

test('a segment that is removed before all wanted columns were read is absent, not one of empty columns', async () => {
  const cache = new SegmentCache(database);
  await cache.batches([ref], () => severities);
  await removeExpired(database, 'rest', { from: 0, before: Number.MAX_SAFE_INTEGER });
  expect(await cache.batches([ref], () => allColumns)).toEqual([undefined]);
});
