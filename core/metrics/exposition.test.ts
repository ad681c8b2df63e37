import { expect, test } from 'vitest';
import { addToQuantiles, newQuantileSketch } from '../sketches/quantiles.ts';
import { type ExposedMetric, exposition, mostExposed } from './exposition.ts';
import type { SeriesLabels } from './labels.ts';
import { measures } from './measures/index.ts';
import type { Measure } from './measures/measure.ts';
import { newPoints, type Points } from './points.ts';

const since = Date.UTC(2026, 10, 24);

function metric(
  measure: string,
  series: readonly (readonly [SeriesLabels, Points])[],
  more: Partial<ExposedMetric> = {},
) {
  const of = measures.get(measure) as Measure;
  const list = series.map(([labels, points]) => ({ labels, points }));
  return { name: 'booking.requests', help: '', unit: '', measure: of, series: list, ...more };
}

/** One place of a measure whose first aggregates have some values. */
function points(measure: string, ...values: readonly number[]): Points {
  const made = newPoints((measures.get(measure) as Measure).aggregates('took'), 1);
  for (const [i, value] of values.entries()) {
    const state = made.states[i];
    if (state && 'values' in state) state.values[0] = value;
  }
  made.filled[0] = 1;
  return made;
}

test('counters are told with when they began, labels with what is in them, and the rest as overflow', () => {
  const text = exposition(
    [
      metric(
        'count',
        [
          [{ 'http.status': '200', path: '/a"b\\\n' }, points('count', 12)],
          [{ 'http.status': null, path: '/' }, points('count', 3)],
          [{ 'http.status': true, path: true }, points('count', 2)],
          [{ 'http.status': '1', path: 'empty' }, newPoints([{ function: 'count' }], 1)],
        ],
        { help: 'How busy "it" is.' },
      ),
      metric('sum', [[{}, points('sum', 2.5, 4)]], { name: 'booking/requests', unit: 'By' }),
      metric('max', [[{}, points('max', 7)]], { name: 'booking_requests' }),
    ],
    since,
  );
  expect(text.split('\n')).toEqual([
    '# TYPE booking_requests counter',
    '# HELP booking_requests How busy \\"it\\" is.',
    'booking_requests_total{http_status="200",path="/a\\"b\\\\\\n"} 12',
    `booking_requests_created{http_status="200",path="/a\\"b\\\\\\n"} ${since / 1_000}`,
    'booking_requests_total{http_status="",path="/"} 3',
    `booking_requests_created{http_status="",path="/"} ${since / 1_000}`,
    'booking_requests_total{otel_metric_overflow="true"} 2',
    `booking_requests_created{otel_metric_overflow="true"} ${since / 1_000}`,
    '# TYPE booking_requests_bytes counter',
    '# UNIT booking_requests_bytes bytes',
    'booking_requests_bytes_total 2.5',
    `booking_requests_bytes_created ${since / 1_000}`,
    '# TYPE booking_requests_2 gauge',
    'booking_requests_2 7',
    '# TYPE otter_derived_series_left_out gauge',
    'otter_derived_series_left_out 0',
    '# EOF',
    '',
  ]);
});

test('histograms have a bucket for each power of two, and what is negative or zero below them', () => {
  const made = points('distribution');
  const sketch = newQuantileSketch();
  for (const value of [-3, 0, 0.3, 0.5, 0.6, 3, 4, 4.1]) addToQuantiles(sketch, value, 1);
  const [state, sum] = made.states;
  if (state?.kind === 'quantiles') state.sketches[0] = sketch;
  if (sum?.kind === 'sum') sum.values[0] = 9.5;
  const text = exposition([metric('distribution', [[{}, made]], { name: 'took', unit: 's' })], since);
  expect(text.split('\n').filter((line) => line.startsWith('took_seconds_'))).toEqual([
    'took_seconds_bucket{le="0"} 2',
    'took_seconds_bucket{le="0.5"} 4',
    'took_seconds_bucket{le="1"} 5',
    'took_seconds_bucket{le="2"} 5',
    'took_seconds_bucket{le="4"} 7',
    'took_seconds_bucket{le="8"} 8',
    'took_seconds_bucket{le="+Inf"} 8',
    'took_seconds_count 8',
    'took_seconds_sum 9.5',
    `took_seconds_created ${since / 1_000}`,
  ]);
});

test('what is too much is left out and counted', () => {
  const many = Array.from({ length: mostExposed + 5 }, (_, i) => [{ n: String(i) }, points('count', 1)] as const);
  const text = exposition([metric('count', many)], since);
  expect(text).toContain('otter_derived_series_left_out 5\n');
  expect(text.match(/_total\{/g)?.length).toBe(mostExposed);
});
