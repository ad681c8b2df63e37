import { expect, test } from 'vitest';
import { array, mixed, number, object, string } from 'yup';
import { addToQuantiles, newQuantileSketch } from '../sketches/quantiles.ts';
import { exposedMetric, onePoint } from '../testing/exposed-metric.ts';
import type { ExposedMetric } from './exposition.ts';
import type { SeriesLabels } from './labels.ts';
import { otlpMessages } from './otlp-metrics.ts';
import { newPoints, type Points } from './points.ts';

const since = Date.UTC(2026, 10, 24);
const now = since + 3_600_000;

const shape = object({
  resourceMetrics: array(
    object({
      scopeMetrics: array(
        object({
          metrics: array(
            object({ name: string().required(), sum: mixed(), gauge: mixed(), exponentialHistogram: mixed() }),
          ).required(),
        }),
      ).required(),
    }),
  ).required(),
});

/** The metrics in messages, as JSON has them. */
function reported(metrics: readonly ExposedMetric[]) {
  return otlpMessages(metrics, since, now).map(
    (text) => shape.validateSync(JSON.parse(text)).resourceMetrics[0]?.scopeMetrics[0]?.metrics ?? [],
  );
}

const metric = (measure: string, series: readonly (readonly [SeriesLabels, Points])[]): ExposedMetric =>
  exposedMetric(measure, series, { name: `m.${measure}`, help: 'what for', unit: 's' });

const times = { startTimeUnixNano: `${since}000000`, timeUnixNano: `${now}000000` };

test('counts are cumulative from the start, labels attributes, and the rest is reported as overflow', () => {
  const [[count, sum, max] = []] = reported([
    metric('count', [
      [{ status: '200', gate: null }, onePoint('count', 12)],
      [{ status: true, gate: true }, onePoint('count', 2)],
      [{ status: '404', gate: 'never' }, newPoints([{ function: 'count' }], 1)],
    ]),
    metric('sum', [[{}, onePoint('sum', -2.5, 4)]]),
    metric('max', [[{}, onePoint('max', 7)]]),
  ]);
  expect(count).toMatchObject({
    name: 'm.count',
    unit: 's',
    description: 'what for',
    sum: {
      aggregationTemporality: 2,
      isMonotonic: true,
      dataPoints: [
        { ...times, asDouble: 12, attributes: [{ key: 'status', value: { stringValue: '200' } }] },
        { ...times, asDouble: 2, attributes: [{ key: 'otel.metric.overflow', value: { boolValue: true } }] },
      ],
    },
  });
  expect(count?.sum).toHaveProperty('dataPoints.length', 2);
  expect(sum?.sum).toMatchObject({ isMonotonic: false, dataPoints: [{ asDouble: -2.5 }] });
  expect(max?.gauge).toMatchObject({ dataPoints: [{ asDouble: 7 }] });
});

test('distributions are exponential histograms whose buckets hold what was measured', () => {
  const made = onePoint('distribution');
  const [state] = made.states;
  const sketch = newQuantileSketch();
  for (const [value, weight] of [
    [0, 2],
    [0.3, 1],
    [1.5, 4],
    [-8, 1],
  ] as const)
    addToQuantiles(sketch, value, weight);
  if (state?.kind === 'quantiles') state.sketches[0] = sketch;
  const [[histogram] = []] = reported([metric('distribution', [[{}, made]])]);
  const side = object({ offset: number().required(), bucketCounts: array(string().required()).required() });
  const { dataPoints } = object({
    dataPoints: array(
      object({
        count: string().required(),
        scale: number().required(),
        zeroCount: string().required(),
        positive: side,
        negative: side,
      }),
    ).required(),
  }).validateSync(histogram?.exponentialHistogram);
  const [point] = dataPoints;
  expect([point?.count, point?.scale, point?.zeroCount]).toEqual(['8', 5, '2']);
  // Bucket i is above 2^(i / 32) and goes up to 2^((i + 1) / 32).
  const countAt = (value: number, { offset, bucketCounts }: { offset: number; bucketCounts: readonly string[] }) =>
    bucketCounts[Math.ceil(Math.log2(value) * 32) - 1 - offset];
  expect(point && countAt(0.3, point.positive)).toBe('1');
  expect(point && countAt(1.5, point.positive)).toBe('4');
  expect(point && countAt(8, point.negative)).toBe('1');
});

test('messages hold 2,000 points, and all series that may be sent are in one of them', () => {
  const series = Array.from({ length: 4_500 }, (_, i) => [{ n: String(i) }, onePoint('count', i)] as const);
  const messages = reported([metric('count', series), metric('max', [[{}, onePoint('max', 1)]])]);
  expect(messages.map((list) => list.map(({ name }) => name))).toEqual([
    ['m.count'],
    ['m.count'],
    ['m.count', 'm.max'],
  ]);
  expect(reported([])).toEqual([]);
});
