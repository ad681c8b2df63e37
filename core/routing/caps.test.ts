import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { EventBatch } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import { hour } from '../events/time-units.ts';
import { compileTier } from '../plan/parts/tiers/compile-tier.ts';
import { liftedCap } from '../plan/parts/tiers/lifted-cap.ts';
import type { CapDocument, TierDocument } from '../plan/parts/tiers/tiers-shape.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { Allowances, type UsedDay } from './allowances.ts';
import { parseDayAmount } from './cap.ts';
import { daysOf, isZone } from './day-of-zone.ts';
import { fairShare } from './overflow/sample.ts';
import { type RoutedBatch, routeBatch, seededRandom } from './route.ts';
import { fates } from './testing/fates.ts';

const today = daysOf('UTC')(arrival);

const tier = (cap: CapDocument, more: Partial<TierDocument> = {}): TierDocument => ({
  id: 'a',
  title: 'A',
  keep: '30d',
  cap,
  ...more,
});
const rest: TierDocument = { id: 'rest', title: 'Rest', keep: '7d' };
const numbers = (count: number): EventBatch => batchOf(Array.from({ length: count }, (_, n) => ({ n })));
const used = (events: number, bytes = 0): readonly UsedDay[] => [{ tier: 'a', day: today.start, events, bytes }];

function route(
  batch: EventBatch,
  tiers: readonly TierDocument[],
  before: readonly UsedDay[] = [],
  now = arrival,
): { readonly routed: RoutedBatch; readonly allowances: Allowances } {
  const allowances = new Allowances(before);
  const piped = { batch, read: batch, fates: new Uint16Array(batch.rows), exits: [] };
  const routed = routeBatch(piped, tiers.map(compileTier), { now, random: seededRandom(11), allowances });
  return { routed, allowances };
}

describe('past the cap of its tier an event', () => {
  test('passes, with the name of the tier', () => {
    const { routed, allowances } = route(numbers(10), [tier({ day: '12 events', over: 'passing' }), rest], used(8));
    expect(fates(routed)).toEqual({ 'kept a': 4, 'overflowed a passing': 6 });
    expect(routed.tiers.map(({ tier, rows }) => [tier, rows.length])).toEqual([
      ['a', 4],
      ['passing', 6],
    ]);
    const { codes } = routed.batch.attributes.get('overflow.of')?.text ?? { codes: [] };
    expect([...codes].map((code) => code >= 0)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9].map((n) => n > 3));
    expect(allowances.uses()).toMatchObject([{ tier: 'a', events: 4, overEvents: 6, unit: 'events', amount: 12 }]);
  });

  test('goes to a tier further down, past those between, whose exclusions and cap count', () => {
    const between: TierDocument = { id: 'between', title: 'Between', keep: '1d' };
    const below: TierDocument = {
      ...{ id: 'below', title: 'Below', keep: '1d', when: 'n < 0' },
      exclusions: [{ id: 'odd', title: 'Odd', when: 'n in (3, 5)', keep: 'none' }],
      cap: { day: '2 events', over: 'passing' },
    };
    const plan = [tier({ day: '3 events', over: { tier: 'below' } }), between, below];
    const { routed } = route(numbers(8), plan);
    expect(fates(routed)).toEqual({
      'kept a': 3,
      'excluded below odd': 2,
      'kept below cap/a': 2,
      'overflowed below passing': 1,
    });
  });

  test('is sampled by shape: rare ones stay whole, sums by weights are right, and nothing is found twice', () => {
    const many = batchOf(Array.from({ length: 5_000 }, (_, n) => ({ n })));
    const shape = textColumn(Array.from({ length: 5_000 }, (_, n) => (n % 500 === 0 ? 'rare' : n % 2 ? 'one' : 'two')));
    const night = today.end - 1;
    const { routed, allowances } = route({ ...many, shape }, [tier({ day: '1000 events', over: 'sample' })], [], night);
    const kept = [...(routed.tiers.find(({ tier }) => tier === 'a')?.rows ?? [])];
    expect(kept.length).toBeGreaterThan(900);
    expect(kept.length).toBeLessThanOrEqual(1_000);
    expect(kept.filter((row) => row % 500 === 0)).toHaveLength(10);
    const sum = kept.reduce((all, row) => all + (routed.batch.weight[row] as number), 0);
    expect(Math.abs(sum - 5_000)).toBeLessThan(400);
    expect(fates(routed)).toEqual({ 'kept a': kept.length, 'overflowed a sample': 5_000 - kept.length });
    expect(routed.tiers).toHaveLength(1);
    expect(allowances.uses()[0]?.events).toBe(kept.length);
  });

  test('has its delivery refused, with the end of the day, and what was booked for it can be taken back', () => {
    const { routed, allowances } = route(numbers(5), [tier({ day: '4 events', over: 'refuse' })]);
    expect(routed.refusedBy).toEqual({ tier: 'a', until: today.end });
    allowances.takeBack();
    expect(allowances.uses()).toEqual([]);
  });
});

test('a sample has a tenth of the day’s allowance spread over it', () => {
  const plan = [tier({ day: '1000 events', over: 'sample' })];
  const kept = (before: number, now: number): number =>
    fates(route(numbers(500), plan, used(before), now).routed)['kept a'] ?? 0;
  expect(kept(400, today.start)).toBe(500);
  expect(kept(900, today.start)).toBe(0);
  expect(Math.abs(kept(900, today.start + 12 * hour) - 50)).toBeLessThan(30);
  expect(kept(1_000, today.end - 1)).toBe(0);
});

test('a cap in bytes counts them as they arrived; one that is lifted lets all come, and counts', () => {
  const batch = { ...numbers(10), size: new Uint32Array(10).fill(100) };
  expect(fates(route(batch, [tier({ day: '0.55 kB', over: 'passing' })]).routed)).toMatchObject({ 'kept a': 5 });
  const { routed, allowances } = route(batch, [tier(liftedCap({ day: '0.55 kB', over: 'passing' }))]);
  expect(fates(routed)).toEqual({ 'kept a': 10 });
  expect(allowances.uses()).toMatchObject([{ events: 10, bytes: 1_000, amount: null }]);
});

test('each event counts for the day on which it arrived', () => {
  const batch = numbers(10);
  for (let row = 5; row < 10; row++) batch.received[row] = today.end + row;
  const { routed, allowances } = route(batch, [tier({ day: '4 events', over: 'passing' })], used(3));
  expect(fates(routed)).toMatchObject({ 'kept a': 1 + 4 });
  expect(allowances.uses().map(({ day, events }) => [day, events])).toEqual([
    [today.start, 1],
    [today.end, 4],
  ]);
});

test('whatever comes, in whatever groups, no day keeps more than it may, and every event has one fate', () => {
  const over = fc.constantFrom<CapDocument['over']>('passing', 'sample', 'refuse', { tier: 'rest' });
  fc.assert(
    fc.property(
      over,
      fc.integer({ min: 1, max: 60 }),
      fc.array(fc.integer({ min: 1, max: 30 })),
      (way, most, groups) => {
        const plan = [tier({ day: `${most} events`, over: way }), rest];
        let before = 0;
        for (const size of groups) {
          const { routed, allowances } = route(numbers(size), plan, used(before), today.end - 1);
          const sums = Object.values(fates(routed)).reduce((all, events) => all + events, 0);
          expect(sums).toBe(size);
          before += allowances.uses().find((use) => use.tier === 'a')?.events ?? 0;
          expect(before).toBeLessThanOrEqual(most);
        }
      },
    ),
  );
});

test('demands share what there is evenly, and none gets more than it wants', () => {
  expect(fairShare([1, 1, 100], 12)).toBe(10);
  expect(fairShare([5, 5], 20)).toBe(Number.POSITIVE_INFINITY);
  expect(fairShare([5, 5], -3)).toBe(0);
});

describe('days of a time zone', () => {
  const lengthOf = (zone: string, time: string): readonly [string, number] => {
    const { start, end } = daysOf(zone)(Date.parse(time));
    return [new Date(start).toISOString(), (end - start) / hour];
  };
  test('have 24 hours, and 23 or 25 when clocks change', () => {
    expect(lengthOf('UTC', '2026-03-29T12:00:00Z')).toEqual(['2026-03-29T00:00:00.000Z', 24]);
    expect(lengthOf('Europe/Oslo', '2026-03-29T12:00:00Z')).toEqual(['2026-03-28T23:00:00.000Z', 23]);
    expect(lengthOf('Europe/Oslo', '2026-10-25T22:59:59Z')).toEqual(['2026-10-24T22:00:00.000Z', 25]);
    expect(lengthOf('Asia/Kolkata', '2026-05-01T18:29:00Z')).toEqual(['2026-04-30T18:30:00.000Z', 24]);
  });
  test('begin when the date changes, where midnight is left out too', () => {
    expect(lengthOf('America/Havana', '2026-03-08T12:00:00Z')).toEqual(['2026-03-08T05:00:00.000Z', 23]);
  });
  test('follow each other without a gap', () => {
    for (const zone of ['Europe/Oslo', 'America/Havana', 'Australia/Lord_Howe', 'Pacific/Apia']) {
      let day = daysOf(zone)(Date.UTC(2026, 0, 1, 12));
      for (let i = 0; i < 370; i++) {
        const next = daysOf(zone)(day.end);
        expect(next.start).toBe(day.end);
        day = next;
      }
    }
  });
  test('zones that nobody has are known as such', () => {
    expect(isZone('Europe/Oslo')).toBe(true);
    expect(isZone('Skerry/Harbour')).toBe(false);
  });
});

test.each([
  ['2 GB', 'bytes', 2e9],
  ['500000 events', 'events', 500_000],
  ['1.5M events', 'events', 1_500_000],
  ['1,000 events', 'events', 1_000],
])('%s is an amount a day', (text, unit, amount) => expect(parseDayAmount(text)).toEqual({ unit, amount }));

test.each(['', '5', '3d', '0 events', '-2 GB', 'GB', '1.2.3 events', '1e300 GB'])('%s is none', (text) =>
  expect(parseDayAmount(text)).toBeUndefined(),
);
