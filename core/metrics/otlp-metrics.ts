import type { ExponentialBuckets, QuantileSketch } from '../sketches/quantiles.ts';
import type { AggregateState } from '../summaries/aggregate-states.ts';
import { type ExposedMetric, mostExposed } from './exposition.ts';
import { isRest, type LabelValue, type SeriesLabels, theRest } from './labels.ts';

/** Most points in one message. */
const mostInMessage = 2_000;

/** The scale at which sketches have their buckets: 2^(1/32) apart. */
const scale = 5;
/** Aggregations that go on from the start time rather than from the last message. */
const cumulative = 2;

type Json = Readonly<Record<string, unknown>>;

/**
 * Metrics as messages of OTLP (`ExportMetricsServiceRequest`, JSON encoding, OpenTelemetry protocol 1), of what came since a
 * time up to another one (milliseconds): counts and sums are cumulative from there, distributions exponential
 * histograms of scale 5, the others gauges. Beyond 20,000 series are left out. Messages hold at most 2,000 points each.
 */
export function otlpMessages(metrics: readonly ExposedMetric[], since: number, now: number): readonly string[] {
  const messages: string[] = [];
  let list: Json[] = [];
  let points = 0;
  let room = mostExposed;
  const send = (): void => {
    if (list.length > 0) messages.push(messageOf(list));
    list = [];
    points = 0;
  };
  for (const metric of metrics) {
    const series = metric.series.slice(0, room).filter(({ points: of }) => of.filled[0] === 1);
    room -= series.length;
    for (let i = 0; i < series.length; ) {
      const some = series.slice(i, i + mostInMessage - points);
      list.push(metricOf({ ...metric, series: some }, since, now));
      points += some.length;
      i += some.length;
      if (points >= mostInMessage) send();
    }
  }
  send();
  return messages;
}

function messageOf(metrics: readonly Json[]): string {
  const resource = { attributes: [attribute('service.name', 'restless-otter')] };
  const scope = { name: 'restless-otter.derived' };
  return JSON.stringify({ resourceMetrics: [{ resource, scopeMetrics: [{ scope, metrics }] }] });
}

function metricOf({ name, help, unit, measure, series }: ExposedMetric, since: number, now: number): Json {
  const described = { name, ...(help && { description: help }), ...(unit && { unit }) };
  const point = ({ labels }: { readonly labels: SeriesLabels }): Json => ({
    attributes: attributesOf(labels),
    startTimeUnixNano: nanoseconds(since),
    timeUnixNano: nanoseconds(now),
  });
  if (measure.exposed === 'counter')
    return {
      ...described,
      sum: {
        aggregationTemporality: cumulative,
        // Sums may have parts below zero.
        isMonotonic: measure.field === 'none',
        dataPoints: series.map((one) => ({ ...point(one), asDouble: sumAt(one.points.states[0]) })),
      },
    };
  if (measure.exposed === 'histogram')
    return {
      ...described,
      exponentialHistogram: {
        aggregationTemporality: cumulative,
        dataPoints: series.flatMap((one) => {
          const [state, sum, least, greatest] = one.points.states;
          const sketch = state?.kind === 'quantiles' ? state.sketches[0] : undefined;
          if (!sketch) return [];
          return [
            {
              ...{ ...point(one), ...histogramOf(sketch) },
              ...{ sum: sumAt(sum), min: edgeAt(least), max: edgeAt(greatest) },
            },
          ];
        }),
      },
    };
  return {
    ...described,
    gauge: {
      dataPoints: series.flatMap((one) => {
        const value = measure.figures[0]?.of(one.points.states, 0, (now - since) / 1_000);
        return typeof value === 'number' ? [{ ...point(one), asDouble: value }] : [];
      }),
    },
  };
}

/** Counts in OTLP are whole: of values that stand for parts of one the nearest number is sent. */
function histogramOf({ zeros, positive, negative }: QuantileSketch): Json {
  const counts = [positive, negative].map(bucketsOf);
  const zeroCount = Math.round(zeros);
  const all = counts.flatMap(({ bucketCounts }) => bucketCounts).reduce((sum, count) => sum + Number(count), zeroCount);
  return {
    ...{ count: String(all), scale, zeroCount: String(zeroCount) },
    ...{ positive: counts[0], negative: counts[1] },
  };
}

function bucketsOf({ offset, counts }: ExponentialBuckets): {
  readonly offset: number;
  readonly bucketCounts: readonly string[];
} {
  return { offset, bucketCounts: Array.from(counts, (count) => String(Math.round(count))) };
}

function sumAt(state: AggregateState | undefined): number {
  return state?.kind === 'sum' ? (state.values[0] as number) : 0;
}

function edgeAt(state: AggregateState | undefined): number | undefined {
  const value = state?.kind === 'least' || state?.kind === 'most' ? state.values[0] : undefined;
  return value === undefined || Number.isNaN(value) ? undefined : value;
}

/** Labels; the series of what goes beyond the limit is written as OpenTelemetry has it. */
function attributesOf(labels: SeriesLabels): readonly Json[] {
  const entries = Object.entries(labels);
  if (isRest(entries.map(([, value]) => value))) return [{ key: 'otel.metric.overflow', value: { boolValue: true } }];
  return entries.flatMap(([name, value]) => (value === null ? [] : [attribute(name, valueText(value))]));
}

function valueText(value: NonNullable<LabelValue>): string {
  return value === theRest ? 'the rest' : value;
}

function attribute(key: string, stringValue: string): Json {
  return { key, value: { stringValue } };
}

/** Milliseconds as OTLP has times: a text of nanoseconds. */
function nanoseconds(milliseconds: number): string {
  return `${Math.round(milliseconds)}000000`;
}
