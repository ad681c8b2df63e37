import { expect, test } from 'vitest';
import { addToQuantiles, newQuantileSketch } from '../sketches/quantiles.ts';
import { exposedMetric, onePoint } from '../testing/exposed-metric.ts';
import { exposition, mostExposed } from './exposition.ts';
import { newPoints } from './points.ts';

const since = Date.UTC(2026, 10, 24);

test('counters are reported with when they began, labels with what is in them, and the rest as overflow', () => {
  const text = exposition(
    [
      exposedMetric(
        'count',
        [
          [{ 'http.status': '200', path: '/a"b\\\n' }, onePoint('count', 12)],
          [{ 'http.status': null, path: '/' }, onePoint('count', 3)],
          [{ 'http.status': true, path: true }, onePoint('count', 2)],
          [{ 'http.status': '1', path: 'empty' }, newPoints([{ function: 'count' }], 1)],
        ],
        { help: 'How busy "it" is.' },
      ),
      exposedMetric('sum', [[{}, onePoint('sum', 2.5, 4)]], { name: 'booking/requests', unit: 'By' }),
      exposedMetric('max', [[{}, onePoint('max', 7)]], { name: 'booking_requests' }),
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
  const made = onePoint('distribution');
  const sketch = newQuantileSketch();
  for (const value of [-3, 0, 0.3, 0.5, 0.6, 3, 4, 4.1]) addToQuantiles(sketch, value, 1);
  const [state, sum] = made.states;
  if (state?.kind === 'quantiles') state.sketches[0] = sketch;
  if (sum?.kind === 'sum') sum.values[0] = 9.5;
  const text = exposition([exposedMetric('distribution', [[{}, made]], { name: 'took', unit: 's' })], since);
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
  const many = Array.from({ length: mostExposed + 5 }, (_, i) => [{ n: String(i) }, onePoint('count', 1)] as const);
  const text = exposition([exposedMetric('count', many)], since);
  expect(text).toContain('otter_derived_series_left_out 5\n');
  expect(text.match(/_total\{/g)?.length).toBe(mostExposed);
});
