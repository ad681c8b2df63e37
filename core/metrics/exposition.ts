import { perDoubling, type QuantileSketch } from '../sketches/quantiles.ts';
import type { AggregateState } from '../summaries/aggregate-states.ts';
import { isRest, type LabelValue, type SeriesLabels, theRest } from './labels.ts';
import type { Measure } from './measures/measure.ts';
import type { Points } from './points.ts';

/** A metric as others get it. */
export interface ExposedMetric {
  readonly name: string;
  readonly help: string;
  /** By UCUM; empty for none. */
  readonly unit: string;
  readonly measure: Measure;
  /** Each with one place: what came since `since`. */
  readonly series: readonly { readonly labels: SeriesLabels; readonly points: Points }[];
}

/** Names of units in OpenMetrics by those of UCUM. */
const units: ReadonlyMap<string, string> = new Map([
  ['s', 'seconds'],
  ['By', 'bytes'],
  ['1', 'ratio'],
  ['%', 'percent'],
]);

/** Most series in all. */
export const mostExposed = 20_000;

/**
 * Metrics as OpenMetrics text (version 1.0.0), of what came since a time (milliseconds): counters begin anew there, and say so
 * by `_created`. Names and labels are written as OpenMetrics has them: what it does not allow becomes `_`. Histograms have a
 * bucket for each power of two. Beyond {@link mostExposed} series are left out, and counted.
 */
export function exposition(metrics: readonly ExposedMetric[], since: number): string {
  const lines: string[] = [];
  const names = new Set<string>();
  let room = mostExposed;
  let leftOut = 0;
  for (const metric of metrics) {
    const unit = units.get(metric.unit) ?? '';
    const name = freeName(familyName(metric.name, unit), names);
    lines.push(`# TYPE ${name} ${metric.measure.exposed}`);
    if (unit !== '') lines.push(`# UNIT ${name} ${unit}`);
    if (metric.help !== '') lines.push(`# HELP ${name} ${escaped(metric.help)}`);
    const series = metric.series.slice(0, room);
    for (const { labels, points } of series)
      if (points.filled[0] === 1)
        lines.push(...samples(name, metric.measure, labelText(labels), points, since / 1_000));
    leftOut += metric.series.length - series.length;
    room -= series.length;
  }
  lines.push('# TYPE otter_derived_series_left_out gauge', `otter_derived_series_left_out ${leftOut}`, '# EOF', '');
  return lines.join('\n');
}

function familyName(name: string, unit: string): string {
  const plain = name.replace(/[^a-zA-Z0-9_]/g, '_').replace(/_total$/, '');
  return unit === '' || plain.endsWith(`_${unit}`) ? plain : `${plain}_${unit}`;
}

/** Two names that differ in what is not allowed would be one. */
function freeName(wanted: string, taken: Set<string>): string {
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted}_${n}`;
  taken.add(name);
  return name;
}

function samples(
  name: string,
  measure: Measure,
  labels: readonly string[],
  points: Points,
  created: number,
): readonly string[] {
  const sample = (suffix: string, value: number, more: readonly string[] = []): string => {
    const all = [...labels, ...more];
    return `${name}${suffix}${all.length > 0 ? `{${all.join(',')}}` : ''} ${value}`;
  };
  if (measure.exposed === 'counter') return [sample('_total', sumAt(points.states[0])), sample('_created', created)];
  if (measure.exposed === 'histogram') {
    const [state, sum] = points.states;
    const sketch = state?.kind === 'quantiles' ? state.sketches[0] : undefined;
    if (!sketch) return [];
    return [
      ...buckets(sketch).map(({ most, count }) => sample('_bucket', count, [`le="${most}"`])),
      sample('_bucket', sketch.total, ['le="+Inf"']),
      sample('_count', sketch.total),
      sample('_sum', sumAt(sum)),
      sample('_created', created),
    ];
  }
  const value = measure.figures[0]?.of(points.states, 0, 1);
  return typeof value === 'number' ? [sample('', value)] : [];
}

function sumAt(state: AggregateState | undefined): number {
  return state?.kind === 'sum' ? (state.values[0] as number) : 0;
}

/** How many values are at most 0, and at most each power of two up to the one that is above all. */
function buckets({
  zeros,
  negative,
  positive,
}: QuantileSketch): readonly { readonly most: number; readonly count: number }[] {
  let count = zeros + negative.counts.reduce((sum, value) => sum + value, 0);
  const list = [{ most: 0, count }];
  const byDoubling = new Map<number, number>();
  for (const [i, value] of positive.counts.entries()) {
    if (value === 0) continue;
    const doubling = Math.floor((positive.offset + i) / perDoubling) + 1;
    byDoubling.set(doubling, (byDoubling.get(doubling) ?? 0) + value);
  }
  const [least, most] = [Math.min(...byDoubling.keys()), Math.max(...byDoubling.keys())];
  for (let doubling = least; doubling <= most; doubling++) {
    count += byDoubling.get(doubling) ?? 0;
    list.push({ most: 2 ** doubling, count });
  }
  return list;
}

/** Labels; the series of what goes beyond the limit is written as OpenTelemetry has it. */
function labelText(labels: SeriesLabels): readonly string[] {
  const entries = Object.entries(labels);
  if (isRest(entries.map(([, value]) => value))) return ['otel_metric_overflow="true"'];
  const names = new Set<string>();
  return entries.map(([name, value]) => {
    const plain = name.replace(/[^a-zA-Z0-9_]/g, '_').replace(/^(?=\d)/, '_');
    return `${freeName(plain, names)}="${escaped(valueText(value))}"`;
  });
}

function valueText(value: LabelValue): string {
  return value === theRest ? 'the rest' : (value ?? '');
}

function escaped(text: string): string {
  return text.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n');
}
