import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { EventBatch } from '../events/batch.ts';
import { compileTier } from '../plan/parts/tiers/compile-tier.ts';
import type { TierDocument } from '../plan/parts/tiers/tiers-shape.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { Ledger, type LedgerEntry, ledgerStart, ledgerWindow } from './ledger.ts';
import { type RoutedBatch, routeBatch, seededRandom } from './route.ts';
import { fates } from './testing/fates.ts';

function route(batch: EventBatch, tiers: readonly TierDocument[], random = seededRandom(7)): RoutedBatch {
  const piped = { batch, read: batch, fates: new Uint16Array(batch.rows), exits: [] };
  return routeBatch(piped, tiers.map(compileTier), { now: arrival, random });
}

/** The values of `n` that each tier stores. */
function stored({ tiers }: RoutedBatch): Readonly<Record<string, readonly number[]>> {
  return Object.fromEntries(
    tiers.map(({ tier, batch, rows }) => [
      tier,
      [...rows].map((row) => batch.attributes.get('n')?.number?.values[row] as number),
    ]),
  );
}

const numbers = (count: number, more: (n: number) => object = () => ({})): EventBatch =>
  batchOf(Array.from({ length: count }, (_, n) => ({ n, ...more(n) })));

describe('tiers', () => {
  test('the first that takes an event has it; what none takes passes', () => {
    const routed = route(numbers(6), [
      { id: 'low', title: 'Low', keep: '1d', when: 'n < 2' },
      { id: 'wide', title: 'Wide', keep: '1d', when: 'n < 4' },
      { id: 'shadowed', title: 'Shadowed', keep: '1d', when: 'n = 1' },
    ]);
    expect(stored(routed)).toEqual({ low: [0, 1], wide: [2, 3], passing: [4, 5] });
    expect(fates(routed)).toEqual({ 'kept low': 2, 'kept wide': 2, passing: 2 });
  });

  test('without any, everything passes', () => {
    expect(fates(route(numbers(3), []))).toEqual({ passing: 3 });
  });
});

describe('exclusions', () => {
  const tier = (...exclusions: NonNullable<TierDocument['exclusions']>): readonly TierDocument[] => [
    { id: 'all', title: 'All', keep: '1d', exclusions },
  ];

  test('the first that fits decides, also when it keeps all', () => {
    const routed = route(
      numbers(6),
      tier(
        { id: 'spare', title: 'Spare', when: 'n = 0', keep: 'all' },
        { id: 'even', title: 'Even', when: 'n in (0, 2, 4)', keep: 'none' },
        { id: 'small', title: 'Small', when: 'n < 3', keep: 'none' },
      ),
    );
    expect(stored(routed)).toEqual({ all: [0, 3, 5], passing: [1, 2, 4] });
    expect(fates(routed)).toEqual({
      'kept all': 2,
      'kept all spare': 1,
      'excluded all even': 2,
      'excluded all small': 1,
    });
  });

  test('what is sampled out is stored nowhere: what was kept stands for it', () => {
    const routed = route(numbers(4_000), tier({ id: 'thin', title: 'Thin', when: '', keep: '1 in 10' }));
    const [kept] = routed.tiers;
    expect(routed.tiers).toHaveLength(1);
    const weights = [...(kept?.rows ?? [])].map((row) => routed.batch.weight[row] as number);
    expect(new Set(weights)).toEqual(new Set([10]));
    const estimated = weights.reduce((sum, weight) => sum + weight, 0);
    // Four standard errors of a binomial share.
    expect(Math.abs(estimated - 4_000)).toBeLessThan(4 * Math.sqrt(4_000 * 9));
    const { 'kept all thin': keptEvents = 0, 'sampled-out all thin': left = 0 } = fates(routed);
    expect(keptEvents + left).toBe(4_000);
    expect(keptEvents).toBe(kept?.rows.length);
  });

  test('weights of events that stood for others already are multiplied', () => {
    const batch = { ...numbers(400), weight: new Float32Array(400).fill(5) };
    const routed = route(batch, tier({ id: 'thin', title: 'Thin', when: '', keep: '1 in 4' }));
    const [row = 0] = routed.tiers[0]?.rows ?? [];
    expect(routed.batch.weight[row]).toBe(20);
    expect(routed.ledger.reduce((sum, { events }) => sum + events, 0)).toBe(2_000);
  });

  test.each([
    ['text', (n: number) => `trip-${n % 50}`],
    ['number', (n: number) => n % 50],
  ] as const)('by a key (%s) journeys stay together, whatever the chance', (_, keyOf) => {
    const batch = numbers(2_000, (n) => ({ trip: keyOf(n) }));
    const thin = tier({ id: 'thin', title: 'Thin', when: '', keep: '1 in 5', by: 'trip' });
    const keptBy = (random: () => number) => stored(route(batch, thin, random)).all ?? [];
    const kept = keptBy(() => 0);
    expect(kept).toEqual(keptBy(() => 0.999));
    const trips = new Set(kept.map((n) => n % 50));
    expect(kept).toHaveLength(trips.size * 40);
    expect(trips.size).toBeGreaterThan(2);
    expect(trips.size).toBeLessThan(22);
  });

  test('a key has the same fate as a number and as a text, in every tier, and is kept in all greater shares', () => {
    const keep = (share: string, key: (n: number) => string | number, id = 'all'): readonly number[] => {
      const exclusions = [{ id: 'thin', title: 'Thin', when: '', keep: share, by: 'trip' }];
      const batch = numbers(600, (n) => ({ trip: key(n) }));
      return stored(route(batch, [{ id, title: 'T', keep: '1d', exclusions }]))[id] ?? [];
    };
    const kept = keep('1 in 4', (n) => n);
    expect(keep('1 in 4', String, 'other')).toEqual(kept);
    const fewer = keep('1 in 12', (n) => n);
    expect(fewer.length).toBeGreaterThan(10);
    expect(fewer.filter((n) => !kept.includes(n))).toEqual([]);
  });

  test.each(Array.from({ length: 50 }, (_, seed) => seed))(
    'sums by weights stay within four standard errors, by chance and by key: case %i',
    (seed) => {
      const random = seededRandom(seed + 1);
      const oneIn = 2 + Math.floor(random() * 30);
      const count = 6_000;
      const by = seed % 2 === 0 ? { by: 'trip' } : {};
      const thin = tier({ id: 'thin', title: 'Thin', when: '', keep: `1 in ${oneIn}`, ...by });
      const routed = route(
        numbers(count, (n) => ({ trip: `${seed}-${n}` })),
        thin,
        random,
      );
      const rows = routed.tiers[0]?.rows ?? new Int32Array();
      const sum = [...rows].reduce((all, row) => all + (routed.batch.weight[row] as number), 0);
      expect(Math.abs(sum - count)).toBeLessThan(4 * Math.sqrt(count * (oneIn - 1)));
    },
  );

  test('one that has ended is as if it were not there', () => {
    const until = new Date(arrival).toISOString();
    const ended = tier({ id: 'thin', title: 'Thin', when: 'n < 3', keep: 'none', until });
    expect(fates(route(numbers(6), ended))).toEqual({ 'kept all': 6 });
    const running = tier({ id: 'thin', title: 'Thin', when: 'n < 3', keep: 'none', until: '2100-01-01' });
    expect(fates(route(numbers(6), running))).toEqual({ 'kept all': 3, 'excluded all thin': 3 });
  });

  test('events without the key are left to chance', () => {
    const thin = tier({ id: 'thin', title: 'Thin', when: '', keep: '1 in 2', by: 'trip' });
    expect(stored(route(numbers(4), thin, () => 0.9))).toEqual({});
    expect(stored(route(numbers(4), thin, () => 0.1)).all).toHaveLength(4);
  });
});

test('every event has one fate, and the ledger counts each with its bytes', () => {
  const when = fc.constantFrom('', 'n < 5', 'n >= 3', 'n in (1, 4, 6)', 'kind = b', 'not has kind');
  const exclusion = fc.record({ when, keep: fc.constantFrom('none', 'all', '1 in 3', '1 in 2') });
  const tiers = fc.array(fc.record({ when, exclusions: fc.array(exclusion, { maxLength: 3 }) }), { maxLength: 4 });
  const events = fc.array(
    fc.record({ n: fc.nat(8), kind: fc.constantFrom('a', 'b', undefined) }, { requiredKeys: ['n'] }),
    { minLength: 1, maxLength: 30 },
  );
  fc.assert(
    fc.property(events, tiers, (list, shapes) => {
      const batch = batchOf(list);
      const routed = route(
        batch,
        shapes.map((tier, i) => ({
          id: `t${i}`,
          title: 'T',
          keep: '1d',
          when: tier.when,
          exclusions: tier.exclusions.map((each, k) => ({ id: `e${k}`, title: 'E', ...each })),
        })),
      );
      const sum = (pick: (entry: LedgerEntry) => number): number =>
        routed.ledger.reduce((total, entry) => total + pick(entry), 0);
      expect(sum(({ events: count }) => count)).toBe(batch.rows);
      expect(sum(({ bytes }) => bytes)).toBe([...batch.size].reduce((a, b) => a + b, 0));
      const rows = routed.tiers.flatMap(({ rows: own }) => [...own]);
      expect(new Set(rows).size).toBe(rows.length);
      const out = routed.ledger.filter(({ outcome }) => outcome === 'sampled-out');
      expect(rows.length).toBe(batch.rows - out.reduce((total, { events: count }) => total + count, 0));
    }),
    { numRuns: 150 },
  );
});

describe('the ledger', () => {
  test('holds minutes for about a day, then hours', () => {
    const day = 86_400_000;
    expect(ledgerStart(arrival + 61_000, arrival + 70_000)).toBe(arrival + 60_000);
    expect(ledgerStart(arrival - 2 * day + 61_000, arrival)).toBe(arrival - 2 * day);
  });

  test('has of a window the minutes that it touches, of an older one the hours, and nothing that is yet to come', () => {
    const [second, minute, hour] = [1_000, 60_000, 3_600_000];
    const now = Date.UTC(2026, 10, 24, 22, 28, 30);
    const over = (from: number, to: number) => {
      const window = ledgerWindow({ from: now - from, to: now - to }, now);
      return [now - window.from, now - window.to];
    };
    expect(over(5 * minute, 0)).toEqual([5 * minute + 30 * second, 0]);
    expect(over(20 * minute, 10 * minute)).toEqual([20 * minute + 30 * second, 9 * minute + 30 * second]);
    expect(over(5 * second, -hour)).toEqual([30 * second, 0]);
    expect(over(30 * hour, 0)).toEqual([30 * hour + 28 * minute + 30 * second, 0]);
    expect(over(30 * hour, 29 * hour)).toEqual([
      30 * hour + 28 * minute + 30 * second,
      28 * hour + 28 * minute + 30 * second,
    ]);
  });

  test('adds up what shares its key, and leaves what it was given alone', () => {
    const ledger = new Ledger();
    const entry: LedgerEntry = {
      start: 0,
      source: 'gates',
      outcome: 'kept',
      tier: 'rest',
      rule: '',
      parsed: true,
      events: 1,
      bytes: 10,
      stored: 3,
    };
    ledger.add(entry);
    ledger.add(entry);
    ledger.add({ ...entry, parsed: false });
    ledger.add({ ...entry, source: 'tides', events: -1 });
    expect(ledger.list().map(({ events, bytes, stored: size }) => [events, bytes, size])).toEqual([
      [2, 20, 6],
      [1, 10, 3],
      [-1, 10, 3],
    ]);
    expect(entry.events).toBe(1);
  });
});
