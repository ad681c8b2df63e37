import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Shadows } from '#core/rehearsal/shadows.ts';
import type { Database } from '#store/database.ts';
import { addToTape, listTape } from '#store/events/tape.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import type { Pools } from '../workers/pools.ts';
import { runShadows } from './run-shadows.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

const tier = (id: string, when: string) => ({ id, title: id, when, keep: '7d', exclusions: [] });
const plan = (...tiers: PlanDocument['tiers'][number][]) =>
  ({ plan: 1, pipelines: [], tiers }) as unknown as PlanDocument;

/** Chunks of a source all over the last hours. */
async function tape(source: string, chunks: number, lines: number): Promise<void> {
  const now = Date.now();
  const rows = Array.from({ length: chunks }, (_, i) => {
    const to = now - 1_000 - i * 10_000;
    return { source, from: to - 1_000, to, lines, data: new Uint8Array(1) };
  });
  await addToTape(database.db, rows);
}

/** A part of the tape that was read. */
interface ReadPart {
  readonly chunks: readonly number[];
  readonly standsFor: number;
  readonly plans: readonly PlanDocument[];
}

/** Lanes that find an event of every tier in each chunk, but of the tier `rare` in a single one; and the parts that they read. */
function lanes(only: number) {
  const parts: ReadPart[] = [];
  const read = async (_lane: number, part: ReadPart): Promise<readonly Shadows[]> => {
    parts.push(part);
    return part.plans.map(({ tiers }): Shadows => {
      const found = tiers.map(({ id }) => {
        const events = id === 'rare' ? Number(part.chunks.includes(only)) : part.chunks.length;
        return [id, { matched: { events, bytes: events }, above: new Map() }] as const;
      });
      return new Map(found);
    });
  };
  return { pools: { readLanes: 1, read } as unknown as Pools, parts };
}

const setting = { tables: {}, fleets: new Map(), signal: new AbortController().signal };
const chunksOf = (parts: readonly ReadPart[]): readonly number[] => parts.flatMap(({ chunks }) => chunks);

test('a tier that is only rare is not said to match nothing: it is looked for as closely as in a rehearsal', async () => {
  await tape('gates', 400, 100);
  await tape('shop-north', 200, 10);
  const ofShop = (await listTape(database, { from: 0, to: Date.now() }, 'shop-north')).map(({ id }) => id);
  const asked = plan(tier('rare', 'source = shop-* severity >= error'), tier('rest', ''));
  const before = lanes(-1);
  await runShadows({ database, pools: before.pools, ...setting }, [asked]);
  // At the first look chunks stand for others.
  const quick = chunksOf(before.parts.filter(({ standsFor }) => standsFor > 1));
  const closer = chunksOf(before.parts.filter(({ standsFor }) => standsFor === 1));
  expect([...closer].sort((a, b) => a - b)).toEqual([...ofShop].sort((a, b) => a - b));
  const leftOut = ofShop.find((id) => !quick.includes(id)) ?? -1;
  const [found] = await runShadows({ database, pools: lanes(leftOut).pools, ...setting }, [asked]);
  expect(found?.get('rare')?.matched.events).toBe(1);
  // What was found of the others at the first look stands.
  expect(found?.get('rest')?.matched.events).toBe(quick.length);
});

test('where every tier matches something it is looked once', async () => {
  await tape('gates', 400, 100);
  const { pools, parts } = lanes(-1);
  await runShadows({ database, pools, ...setting }, [plan(tier('desk', 'source = desk'), tier('rest', ''))]);
  expect(parts.every(({ standsFor }) => standsFor > 1)).toBe(true);
  expect(chunksOf(parts).length).toBeLessThan(200);
});
