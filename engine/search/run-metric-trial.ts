import type { MetricLine, MetricTrialAnswer, TriedKey } from '#core/answers/metrics.ts';
import { day } from '#core/events/time-units.ts';
import { unpackMetricDeltas } from '#core/metrics/metric-delta.ts';
import { type MetricTrial, mergeTrials, newMetricTrial } from '#core/metrics/metric-trial.ts';
import { type MetricWindow, metricWindow, type WindowGroup } from '#core/metrics/metric-window.ts';
import { mergePoint, newPoints } from '#core/metrics/points.ts';
import { seriesOutlook } from '#core/metrics/series-outlook.ts';
import { trialTable } from '#core/metrics/trial-table.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { mayTake } from '#core/plan/may-enter.ts';
import { compileMetric, limitOf, metricKeep } from '#core/plan/parts/metrics/metric.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import type { SummaryValue } from '#core/summaries/aggregate-states.ts';
import type { Database } from '#store/database.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape, tapeStretch } from './over-tape.ts';

/** Most taped records that a metric is tried on. */
const mostRecords = 60_000;
/** Lines of the chart, values that are listed of a key, and the top that is offered. */
const mostLines = 6;
const mostSamples = 12;
const offeredTop = 20;
const month = 30 * day;

interface TrialServices {
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: SourceDirectory;
  readonly plan: PlanDocument;
  readonly signal: AbortSignal;
}

/** Tries a metric on the tape of the last day. Without one, nothing is known. */
export async function runMetricTrial(
  { database, pools, directory, plan, signal }: TrialServices,
  metric: MetricDocument | undefined,
  coinsOf: (series: number) => number,
  now: number,
): Promise<MetricTrialAnswer> {
  const window = metricWindow(now - tapeStretch, now, now, 96);
  const spans = { from: window.from, to: window.to, every: window.every };
  if (!metric) return { ...nothing, ...spans };
  const trial = newMetricTrial(compileMetric(metric), window.every);
  const { tables, fleets } = directory;
  await overTape(
    { database, pools, now, mostRecords, isWanted: (source) => mayTake(metric.when, source), signal },
    (lane, part) =>
      pools.read(lane, {
        kind: 'metricTrial',
        plan,
        metric,
        tables,
        fleets,
        now,
        half: now - tapeStretch / 2,
        every: window.every,
        ...part,
      }),
    ({ deltas, ...part }) => {
      mergeTrials(trial, part);
      for (const one of unpackMetricDeltas(deltas)) trial.accumulator.merge(one);
    },
  );
  return { ...nothing, ...spans, ...foundOf(trial, metric, coinsOf, window) };
}

const nothing: Omit<MetricTrialAnswer, 'from' | 'to' | 'every'> = {
  ...{ records: 0, events: 0, currency: null, inMonth: 0, inAll: 0, coins: 0, priceOfAll: 0 },
  series: { likely: 0, least: 0, most: 0 },
  ...{ keys: [], figures: [], lines: [], otherCount: 0, problems: [] },
  whole: { labels: [], values: [], all: null },
};

function foundOf(
  trial: MetricTrial,
  metric: MetricDocument,
  coinsOf: (series: number) => number,
  window: MetricWindow,
): Partial<MetricTrialAnswer> {
  const { accumulator, records, events } = trial;
  const { measure, aggregates, keys: compiled } = accumulator.metric;
  const outlook = seriesOutlook(trial, tapeStretch);
  const priced = (series: number) => ({ series, coins: coinsOf(series) });
  const keys = compiled.map(
    ({ name }, i): TriedKey => ({
      name,
      values: outlook.values(i),
      isOpen: outlook.isOpen(i, month),
      samples: samplesOf(trial, i),
      without: priced(outlook.without(i, month)),
      top: priced(outlook.withTop(i, offeredTop, month)),
    }),
  );
  const table = trialTable(trial, window, mostLines);
  const inMonth = outlook.within(month);
  const all = newPoints(aggregates, 1);
  for (const place of accumulator.cells.keys()) mergePoint(all, 0, accumulator.points, place);
  const figures = measure.figures.map(({ name, of }) => ({
    name,
    value: numberOf(of(all.states, 0, tapeStretch / 1_000)),
  }));
  return {
    ...{ records, events, keys, inMonth },
    series: outlook.now,
    inAll: outlook.within(metricKeep(metric)),
    coins: coinsOf(Math.min(inMonth, limitOf(metric))),
    priceOfAll: coinsOf(inMonth),
    figures: accumulator.cells.length > 0 ? figures : [],
    whole: lineOf(table.whole),
    lines: keys.length > 0 ? table.groups.map(lineOf) : [],
    otherCount: table.otherCount,
  };
}

/** The most frequent values of a key. */
function samplesOf({ values, events }: MetricTrial, key: number): TriedKey['samples'] {
  return [...(values[key] ?? [])]
    .sort((a, b) => b[1] - a[1])
    .slice(0, mostSamples)
    .map(([value, count]) => ({ value, share: events > 0 ? count / events : 0 }));
}

function lineOf({ labels, values, all }: WindowGroup): MetricLine {
  return { labels, values: values.map(numberOf), all: numberOf(all) };
}

function numberOf(value: SummaryValue): number | null {
  return typeof value === 'number' ? value : null;
}
