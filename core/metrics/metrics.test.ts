import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { readRecords } from '../formats/read.ts';
import { splitLines } from '../formats/records.ts';
import { compileMetric } from '../plan/parts/metrics/metric.ts';
import { metricOfSummary } from '../plan/parts/metrics/metric-of-summary.ts';
import type { MetricDocument } from '../plan/parts/metrics/metrics-shape.ts';
import { addToDistinct, distinctCount, newDistinctSketch, packDistinct, unpackDistinct } from '../sketches/distinct.ts';
import { addToQuantiles, newQuantileSketch, packQuantiles, quantile, unpackQuantiles } from '../sketches/quantiles.ts';
import { parseSummary } from '../summaries/parse-summary.ts';
import { rolledUp, setPoint } from './chunks.ts';
import { hours, minutes, placesOf, tenMinutes } from './levels.ts';
import { measures } from './measures/index.ts';
import type { Measure } from './measures/measure.ts';
import { MetricAccumulator } from './metric-accumulator.ts';
import { packMetricDeltas, unpackMetricDeltas } from './metric-delta.ts';
import { metricWindow, WindowBuilder } from './metric-window.ts';
import { packNumbers, unpackNumbers } from './pack-numbers.ts';
import { packPoints, unpackPoints } from './pack-points.ts';
import { mergePoint, newPoints, type Points } from './points.ts';
import { aggregatesOf, pointsOf } from './stored-points.ts';

const start = Date.UTC(2026, 10, 24, 9);

function packed(values: Float64Array): Uint8Array {
  const writer = new NumberWriter();
  packNumbers(writer, values);
  return writer.bytes();
}

describe('numbers in few bytes', () => {
  const decimals = fc.integer({ min: -1_000_000, max: 1_000_000 }).map((value) => value / 100);
  const any = fc.oneof(
    fc.double(),
    decimals,
    fc.integer(),
    fc.constantFrom(-0, 1e300, -1e300, 2 ** 52, 2 ** 53, 1e-300),
  );

  test('any numbers are the same again', () => {
    fc.assert(
      fc.property(fc.array(any, { maxLength: 60 }), (list) => {
        const values = Float64Array.from(list);
        expect(unpackNumbers(new NumberReader(packed(values)), values.length)).toEqual(values);
      }),
    );
  });

  test('counts take about a byte each, and what grows evenly no more', () => {
    const counts = Float64Array.from({ length: 60 }, (_, i) => 1_200 + Math.round(40 * Math.sin(i * 7)));
    expect(packed(counts).length).toBeLessThan(60 * 1.6);
    const times = Float64Array.from({ length: 60 }, (_, i) => start + i * 60_000 + (i % 7));
    expect(packed(times).length).toBeLessThan(60 * 1.3);
  });
});

/** Events of which each has a number, a text and a time within an hour. */
function batchOf(events: readonly { readonly at: number; readonly n: number; readonly who: string }[]) {
  const lines = events.map(({ at, n, who }) =>
    JSON.stringify({ time: new Date(start + at * 1_000).toISOString(), n, who }),
  );
  const records = splitLines(new TextEncoder().encode(lines.join('\n')));
  return readRecords('gates', records, 'json', { received: start + 3_600_000, backfill: false }).batch;
}

function takeOf(metric: Partial<MetricDocument>): MetricAccumulator {
  return new MetricAccumulator(compileMetric({ id: 'm', name: 'm', when: '', measure: 'count', ...metric }));
}

const events = fc.array(
  fc.record({
    at: fc.integer({ min: 0, max: 3_599 }),
    n: fc.oneof(fc.integer({ min: -50, max: 5_000 }), fc.constant(0)),
    who: fc.constantFrom('pier-1', 'pier-2', 'Pier 3', ''),
  }),
  { minLength: 1, maxLength: 80 },
);

/** What a take has, by minute and labels, as figures. */
function figuresOf({ cells, points, metric }: Pick<MetricAccumulator, 'cells' | 'points' | 'metric'>) {
  const figures = cells.map(({ start: at, labels }, place) => [
    `${at} ${JSON.stringify(labels)}`,
    metric.measure.figures.map(({ of }) => of(points.states, place, 60)),
  ]);
  return Object.fromEntries(figures) as Record<string, readonly unknown[]>;
}

describe.each([...measures.values()])('$name', (measure) => {
  const metric = { measure: measure.name, by: [{ field: 'who' }], ...(measure.field !== 'none' && { of: 'n' }) };

  test('events in any pieces come to the same, also on their way through the store', () => {
    fc.assert(
      fc.property(events, fc.nat(), (list, cut) => {
        const whole = takeOf(metric);
        whole.add(batchOf(list), { now: start });
        const parts = [list.slice(0, cut % list.length), list.slice(cut % list.length)].map((part) => {
          const accumulator = takeOf(metric);
          if (part.length > 0) accumulator.add(batchOf(part), { now: start });
          return accumulator;
        });
        const reported = parts.flatMap((part) => unpackMetricDeltas(packMetricDeltas([part])));
        const merged = takeOf(metric);
        for (const one of reported) merged.merge(one);
        expect(figuresOf(merged)).toEqual(figuresOf(whole));
      }),
      { numRuns: 30 },
    );
  });

  test('coarser levels are what they are made of, and chunks are the same out of the store', () => {
    fc.assert(
      fc.property(events, (list) => {
        const accumulator = takeOf({ ...metric, by: [] });
        accumulator.add(batchOf(list), { now: start });
        const { aggregates } = accumulator.metric;
        const hour = newPoints(aggregates, placesOf(minutes));
        const all = newPoints(aggregates, 1);
        accumulator.cells.forEach(({ start: at }, place) => {
          mergePoint(hour, (at - start) / 60_000, accumulator.points, place);
          mergePoint(all, 0, accumulator.points, place);
        });
        const stored = unpackPoints(packPoints(hour, 60), aggregates, 60);
        expect(readAll(stored, 60)).toEqual(readAll(hour, 60));
        expect(readAll(rolledUp(stored, minutes, hours, aggregates), 1)).toEqual(readAll(all, 1));
        const tens = rolledUp(stored, minutes, tenMinutes, aggregates);
        expect(readAll(rolledUp(tens, tenMinutes, hours, aggregates), 1)).toEqual(readAll(all, 1));
        // What is set anew is as if it had not been there before.
        const again = newPoints(aggregates, 3);
        setPoint(again, 1, all, 0);
        setPoint(again, 1, all, 0);
        expect(readAll(again, 3)[1]).toEqual(readAll(all, 1)[0]);
        expect([...again.filled]).toEqual([0, 1, 0]);
      }),
      { numRuns: 30 },
    );

    function readAll(points: Points, places: number) {
      return Array.from({ length: places }, (_, place) =>
        points.filled[place] === 1 ? measure.figures.map(({ of }) => of(points.states, place, 60)) : undefined,
      );
    }
  });

  test('its points go by a name that tells what they hold', () => {
    const field = measure.field === 'none' ? '' : 'http.status code';
    expect(aggregatesOf(pointsOf(measure, field))).toEqual(measure.aggregates(field));
  });
});

describe('series', () => {
  test('events that lack what is measured are none of its', () => {
    const accumulator = takeOf({ measure: 'sum', of: 'absent' });
    expect(accumulator.add(batchOf([{ at: 1, n: 1, who: 'a' }]), { now: start })).toBeUndefined();
    expect(accumulator.cells).toEqual([]);
  });

  test('names that objects have by themselves are keys like others', () => {
    const window = metricWindow(start, start + 3_600_000, start + 3_600_000);
    const aggregates = aggregatesOf('count');
    const builder = new WindowBuilder(window, aggregates, () => ({}), ['constructor', '__proto__']);
    const points = newPoints(aggregates, 1);
    points.filled[0] = 1;
    builder.addCell({ source: 'gates' }, start, points, 0);
    builder.addCell(Object.fromEntries([['__proto__', 'x']]), start, points, 0);
    const { groups } = builder.table(measures.get('count') as Measure, 0, 5);
    expect(groups.map(({ labels }) => labels)).toEqual([
      ['(none)', '(none)'],
      ['(none)', 'x'],
    ]);
  });

  test('a key may go through a table', () => {
    const find = (key: string) => (key === 'pier-1' ? ['pier-1', 'north'] : undefined);
    const table = { columns: ['pier', 'side'], rows: 1, find };
    const by = [{ field: 'who', table: 'piers', column: 'side' }];
    const metric = compileMetric(
      { id: 'm', name: 'm', when: '', measure: 'count', by },
      { table: () => table, place: () => undefined },
    );
    const accumulator = new MetricAccumulator(metric);
    accumulator.add(batchOf(['pier-1', 'pier-2'].map((who) => ({ at: 1, n: 1, who }))), { now: start });
    expect(accumulator.cells.map(({ labels }) => labels)).toEqual([['north'], [null]]);
    expect(unpackMetricDeltas(packMetricDeltas([accumulator]))[0]?.keys).toEqual([{ name: 'side', top: undefined }]);
  });
});

test('what is too long is cut, and what is too much goes into the rest: nothing is lost', () => {
  const accumulator = takeOf({ by: [{ field: 'who' }] });
  const long = 'x'.repeat(50_000);
  accumulator.add(
    batchOf([
      { at: 1, n: 1, who: long },
      { at: 1, n: 1, who: `${long}y` },
    ]),
    { now: start },
  );
  expect(accumulator.cells.map(({ labels }) => String(labels[0]).length)).toEqual([200]);
  for (let part = 0; part < 12; part++)
    accumulator.add(batchOf(Array.from({ length: 2_000 }, (_, i) => ({ at: 61, n: 1, who: `u${part}-${i}` }))), {
      now: start,
    });
  expect(accumulator.cells.length).toBe(20_001);
  expect(accumulator.cells.at(-1)?.labels).toEqual([true]);
  expect(accumulator.events.reduce((sum, events) => sum + events, 0)).toBe(24_002);
});

describe('sketches in the store', () => {
  test('quantiles and distinct counts are the same again', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ noNaN: true }), { maxLength: 200 }), fc.nat({ max: 3_000 }), (values, many) => {
        const quantiles = newQuantileSketch();
        const distinct = newDistinctSketch();
        for (const value of values) addToQuantiles(quantiles, value, 1);
        for (let i = 0; i < many; i++) addToDistinct(distinct, Math.imul(i, 0x9e3779b1));
        const writer = new NumberWriter();
        packQuantiles(writer, quantiles);
        packDistinct(writer, distinct);
        const reader = new NumberReader(writer.bytes());
        const read = unpackQuantiles(reader);
        for (const share of [0, 0.25, 0.5, 0.9, 1]) expect(quantile(read, share)).toBe(quantile(quantiles, share));
        expect(distinctCount(unpackDistinct(reader))).toBe(distinctCount(distinct));
      }),
      { numRuns: 60 },
    );
  });
});

test('a summary begins a metric where one can keep what it tells', () => {
  const begun = (text: string) => {
    const parsed = parseSummary(text);
    if (!parsed.ok) throw new Error(parsed.problem.message);
    return metricOfSummary(parsed.summary, 'a = 1 or b = 2');
  };
  expect(begun('count() by source, tier every 5m')).toEqual({
    when: 'a = 1 or b = 2',
    measure: 'count',
    by: [{ field: 'source' }],
  });
  expect(begun('count(took)')).toEqual({ when: '(a = 1 or b = 2) has took', measure: 'count' });
  expect(begun('p95(took) as slow by path')).toMatchObject({ measure: 'distribution', of: 'took' });
  expect(begun('first(took)')).toBeUndefined();
});
