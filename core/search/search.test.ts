import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { allRows, gather } from '../events/select.ts';
import { parseSummary } from '../summaries/parse-summary.ts';
import { summaryTable } from '../summaries/summary-table.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { searchBatches } from '../testing/search-batches.ts';
import { fieldSummaries } from './field-summary.ts';
import { bucketsFor } from './histogram.ts';
import { mergeFound, newFound, type SearchQuery } from './search.ts';

function query(summary: string, condition = ''): SearchQuery {
  const parsed = parseSummary(summary);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return {
    condition: conditionOf(condition),
    window: { from: 0, to: arrival * 2 },
    limit: 5,
    order: 'newest',
    isCounted: true,
    buckets: bucketsFor({ from: 0, to: arrival * 2 }, 4),
    fields: true,
    summary: parsed.summary,
  };
}

function table(summary: string, events: readonly object[], condition = '') {
  const asked = query(summary, condition);
  const partial = searchBatches(asked, [batchOf(events)], { now: arrival });
  if (!asked.summary || !partial.summary) throw new Error('no summary');
  return summaryTable(asked.summary, partial.summary, asked.window, arrival).rows;
}

const events = Array.from({ length: 100 }, (_, i) => ({
  time: new Date(arrival - i * 60_000).toISOString(),
  level: i % 10 === 0 ? 'error' : 'info',
  service: i % 4 === 0 ? 'gates' : 'booking',
  took: i / 100,
  user: `u${i % 7}`,
  ok: i % 2 === 0,
}));

describe('summaries', () => {
  test.each<[string, string, unknown[][]]>([
    ['count()', '', [[100]]],
    [
      'count() by service',
      '',
      [
        ['booking', 75],
        ['gates', 25],
      ],
    ],
    [
      'count(), sum(took) as total by service sort by total asc',
      '',
      [
        ['gates', 25, 12],
        ['booking', 75, 37.5],
      ],
    ],
    ['min(took), max(took), avg(took)', 'service = gates', [[0, 0.96, 0.48]]],
    ['distinct(user)', '', [[7]]],
    ['count() by ok, severity top 1', '', [['false', 'info', 50]]],
    [
      'count() by user having count() > 14',
      '',
      [
        ['u0', 15],
        ['u1', 15],
      ],
    ],
    ['count() * 2 + 1 as odd', '', [[201]]],
    ['first(took), last(took)', '', [[0.99, 0]]],
    [
      'count() every 1h',
      '',
      [
        [arrival - 7_200_000, 39],
        [arrival - 3_600_000, 60],
        [arrival, 1],
      ],
    ],
    ['count() by nothing', '', [[null, 100]]],
    ['count() as n, last(time) as seen by service having age(seen) > 30s', '', [['booking', 75, arrival - 60_000]]],
  ])('%s', (summary, condition, rows) => {
    expect(table(summary, events, condition)).toEqual(rows);
  });

  test('percentiles are within the error of the sketch', () => {
    const [row] = table('p50(took), p95(took), p99(took)', events);
    for (const [i, exact] of [0.5, 0.95, 0.99].entries())
      expect(Math.abs(Number(row?.[i]) / exact - 1)).toBeLessThan(0.035);
  });

  test.each([
    ['cont()', 'count'],
    ['p95()', undefined],
    ['count() by', undefined],
    ['count() every soon', undefined],
    ['count() having 3', undefined],
    ['count() by a, b, c, d, e', undefined],
    ['count(', undefined],
    ['', undefined],
  ])('%s is refused with its place', (summary, suggestion) => {
    const parsed = parseSummary(summary);
    if (parsed.ok) throw new Error('was taken');
    expect(parsed.problem.suggestion).toBe(suggestion);
  });
});

test.each([
  ['brackets without end', '('.repeat(5_000), 'less nesting'],
  ['brackets that are closed', `${'('.repeat(2_000)}count()${')'.repeat(2_000)}`, 'less nesting'],
  ['a chain without end', `count()${' + 1'.repeat(1_200)}`, 'at most 200 operators'],
])('%s are refused, not fallen over', (_, text, reason) => {
  const parsed = parseSummary(text);
  expect(parsed.ok ? '' : parsed.problem.message).toContain(reason);
});

test('events split over batches in any way give the same result', () => {
  const asked = query(
    'count() as n, p95(took) as slow, distinct(user) as users, min(took) as least, last(user) as latest by service, ok every 30m',
    'not user = u3',
  );
  const whole = searchBatches(asked, [batchOf(events)], { now: arrival });
  fc.assert(
    fc.property(fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { maxLength: 5 }), (cuts) => {
      const edges = [0, ...cuts.sort((a, b) => a - b), events.length];
      const pieces = edges.slice(1).map((end, i) => batchOf(events.slice(edges[i], end)));
      const found = newFound(asked);
      for (const piece of pieces) mergeFound(found, searchBatches(asked, [piece], { now: arrival }));
      const merged = { ...searchBatches(asked, pieces, { now: arrival }), ...found };
      expect(merged.total).toBe(whole.total);
      expect([...merged.histogram]).toEqual([...whole.histogram]);
      expect(merged.events).toEqual(whole.events);
      const sorted = (partial: typeof whole) =>
        asked.summary && partial.summary
          ? summaryTable(asked.summary, partial.summary, asked.window, arrival)
              .rows.map((row) => JSON.stringify(row))
              .sort()
          : [];
      expect(sorted(merged)).toEqual(sorted(whole));
      const fields = (partial: typeof whole) =>
        fieldSummaries(partial.fields, partial.fieldTotal).map(({ name, share, distinct }) => ({
          name,
          share,
          distinct,
        }));
      expect(fields(merged)).toEqual(fields(whole));
    }),
    { numRuns: 40 },
  );
});

test('weights count in totals, histograms, summaries and fields', () => {
  const asked = query('count(), sum(took), avg(took)');
  const batch = gather('s', [{ batch: batchOf(events), rows: allRows(batchOf(events)) }]);
  const weighted = { ...batch, weight: batch.weight.map(() => 10) };
  const partial = searchBatches(asked, [weighted], { now: arrival });
  expect(partial.total).toBe(1000);
  expect(partial.stored).toBe(100);
  expect(partial.histogram.reduce((a, b) => a + b, 0)).toBe(1000);
  if (!asked.summary || !partial.summary) throw new Error('no summary');
  const [row] = summaryTable(asked.summary, partial.summary, asked.window, arrival).rows;
  expect(row?.map(Number).map((value) => Math.round(value * 1000) / 1000)).toEqual([1000, 495, 0.495]);
  const service = fieldSummaries(partial.fields, partial.fieldTotal).find(({ name }) => name === 'service');
  expect(service?.top).toEqual([
    { value: 'booking', count: 750 },
    { value: 'gates', count: 250 },
  ]);
});
