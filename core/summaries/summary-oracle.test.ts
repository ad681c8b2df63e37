import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { hour } from '../events/time-units.ts';
import { bucketsFor } from '../search/histogram.ts';
import type { SearchQuery } from '../search/search.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { searchBatches } from '../testing/search-batches.ts';
import { parseSummary } from './parse-summary.ts';
import { type SummaryTable, summaryTable } from './summary-table.ts';

interface Event {
  readonly t: number;
  readonly pier?: string | undefined;
  readonly n?: number | undefined;
}

function run(text: string, events: readonly Event[], weight = 1, from = 0): SummaryTable {
  const parsed = parseSummary(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  const query: SearchQuery = {
    condition: conditionOf(''),
    window: { from, to: arrival + hour },
    limit: 0,
    order: 'newest',
    isCounted: true,
    buckets: bucketsFor({ from, to: arrival }, 0),
    fields: false,
    summary: parsed.summary,
  };
  const lines = events.map(({ t, ...rest }) => ({ time: new Date(arrival - t * 1_000).toISOString(), ...rest }));
  const batch = batchOf(lines);
  const weighted = { ...batch, weight: batch.weight.map(() => weight) };
  const partial = searchBatches(query, [weighted], { now: arrival });
  if (!partial.summary) throw new Error('there is no summary');
  return summaryTable(parsed.summary, partial.summary, query.window, arrival);
}

/** The values of `n` of some events. */
const numbers = (events: readonly Event[]): readonly number[] => events.flatMap(({ n }) => n ?? []);
const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/** The same figures, worked out event by event. */
const slow: readonly (readonly [string, (events: readonly Event[], weight: number) => number | null])[] = [
  ['count()', (events, weight) => events.length * weight],
  ['sum(n)', (events, weight) => sum(numbers(events)) * weight],
  ['avg(n)', (events) => (numbers(events).length > 0 ? sum(numbers(events)) / numbers(events).length : null)],
  ['min(n)', (events) => (numbers(events).length > 0 ? Math.min(...numbers(events)) : null)],
  ['max(n)', (events) => (numbers(events).length > 0 ? Math.max(...numbers(events)) : null)],
  ['distinct(n)', (events) => new Set(numbers(events)).size],
];

const event = fc.record(
  {
    t: fc.integer({ min: 0, max: 7_200 }),
    pier: fc.constantFrom('p1', 'p2', 'p3', undefined),
    n: fc.option(fc.integer({ min: -50, max: 50 }), { nil: undefined }),
  },
  { requiredKeys: ['t'] },
);

describe('a summary is what adding up event by event gives', () => {
  test('by a key, with weights', () => {
    const text = slow.map(([name]) => name).join(', ');
    fc.assert(
      fc.property(fc.array(event, { minLength: 1, maxLength: 40 }), fc.constantFrom(1, 10), (events, weight) => {
        const { rows } = run(`${text} by pier`, events, weight);
        const groups = new Map<string | null, Event[]>();
        for (const each of events) {
          const key = each.pier ?? null;
          groups.set(key, [...(groups.get(key) ?? []), each]);
        }
        expect(rows).toHaveLength(groups.size);
        for (const [key, ...figures] of rows) {
          const own = groups.get(key === null ? null : String(key)) ?? [];
          slow.forEach(([, figure], i) => {
            const wanted = figure(own, weight);
            if (wanted === null) expect(figures[i]).toBeNull();
            else expect(figures[i]).toBeCloseTo(wanted, 6);
          });
        }
      }),
      { numRuns: 150 },
    );
  });

  test('by time: every bucket has the events of its stretch', () => {
    fc.assert(
      fc.property(fc.array(event, { minLength: 1, maxLength: 40 }), (events) => {
        const { rows } = run('count(), max(n) every 10m', events);
        const bucket = (each: Event): number => Math.floor((arrival - each.t * 1_000) / 600_000) * 600_000;
        for (const [start, count, most] of rows) {
          const own = events.filter((each) => bucket(each) === start);
          expect(count).toBe(own.length);
          expect(most).toBe(numbers(own).length > 0 ? Math.max(...numbers(own)) : null);
        }
        expect(sum(rows.map((row) => Number(row[1])))).toBe(events.length);
      }),
      { numRuns: 100 },
    );
  });

  test('the first and the last value are those of the earliest and the latest event that has one', () => {
    fc.assert(
      fc.property(fc.uniqueArray(event, { minLength: 1, maxLength: 20, selector: ({ t }) => t }), (events) => {
        const having = events.filter(({ n }) => n !== undefined).sort((a, b) => b.t - a.t);
        const [[first, last] = []] = run('first(n), last(n)', events).rows;
        expect(first).toBe(having[0]?.n ?? null);
        expect(last).toBe(having.at(-1)?.n ?? null);
      }),
      { numRuns: 100 },
    );
  });
});

describe('what a table says of itself', () => {
  const events: readonly Event[] = Array.from({ length: 60 }, (_, i) => ({ t: i * 60, pier: `p${i % 6}`, n: i }));

  test('units of its columns', () => {
    const { columns } = run('count(), rate(), avg(n), last(time) as seen, age(seen) as quiet by pier every 1h', events);
    expect(columns).toEqual([
      { name: 'time', unit: 'time', key: true },
      { name: 'pier', unit: 'text', key: true },
      { name: 'count()', unit: 'count', key: false, additive: true },
      { name: 'rate()', unit: 'per-second', key: false },
      { name: 'avg(n)', unit: 'none', key: false },
      { name: 'seen', unit: 'time', key: false },
      { name: 'quiet', unit: 'duration', key: false },
    ]);
  });

  test('a rate is over the window, or over a bucket', () => {
    const from = arrival - hour;
    expect(run('rate()', events, 1, from).rows).toEqual([[60 / 7_200]]);
    const [[, rate] = []] = run('rate() every 10m', events, 1, from).rows;
    expect(Number(rate)).toBeLessThanOrEqual(10 / 600);
  });

  test('the largest come first, others by their column; top leaves the rest out but tells how many there were', () => {
    expect(run('sum(n) by pier top 2', events).rows.map(([pier]) => pier)).toEqual(['p5', 'p4']);
    expect(run('sum(n) by pier top 2', events).groups).toBe(6);
    expect(run('sum(n) by pier sort by pier asc', events).rows.map(([pier]) => pier)).toEqual([
      'p0',
      'p1',
      'p2',
      'p3',
      'p4',
      'p5',
    ]);
  });

  test('with time buckets, top keeps whole series', () => {
    const { rows } = run('sum(n) by pier every 10m top 1', events);
    expect(new Set(rows.map((row) => row[1]))).toEqual(new Set(['p5']));
    expect(rows.length).toBeGreaterThan(4);
  });

  test('what cannot be computed is empty', () => {
    expect(run('sum(n) / 0 as none, avg(missing) as nothing, first(missing)', events).rows).toEqual([
      [null, null, null],
    ]);
  });
});
