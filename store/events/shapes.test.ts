import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { hour, minute } from '#core/events/time-units.ts';
import type { Database } from '../database.ts';
import { emptyDatabase } from '../testing/database.ts';
import { addShapeVolume, sumShapes } from './shapes.ts';

const begin = Date.UTC(2026, 10, 24, 9, 17);

let database: Database;

beforeAll(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterAll(() => database.close());

test('buckets are aligned to the beginning of the window and leave out earlier volume', async () => {
  const common = { shape: 's000000001', source: 'gates', tier: 'rest', outcome: 'kept' as const, severity: 3 };
  const volumes = [-1, 0, 59, 60, 119, 120].map((after) => ({
    ...common,
    ...{ start: begin + after * minute, events: 1, bytes: 10 ** (after === -1 ? 9 : 2) },
  }));
  await addShapeVolume(database.db, volumes);
  const sums = await sumShapes(database, { from: begin, to: begin + 2 * hour }, hour);
  expect(sums.map(({ start, events, bytes }) => [start, events, bytes]).sort()).toEqual([
    [begin, 2, 200],
    [begin + hour, 2, 200],
  ]);
  const [all] = await sumShapes(database, { from: begin, to: begin + 2 * hour }, 0);
  expect(all).toMatchObject({ events: 4, bytes: 400 });
});
