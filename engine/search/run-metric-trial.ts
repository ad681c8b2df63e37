import type { MetricTrialAnswer, TriedKey } from '#core/answers/metrics.ts';
import { hour } from '#core/metrics/levels.ts';
import { compileMetric, limitOf, metricKeep } from '#core/metrics/metric.ts';
import { type MetricTrial, mergeTrials, newMetricTrial } from '#core/metrics/metric-trial.ts';
import { type MetricWindow, metricWindow, WindowBuilder } from '#core/metrics/metric-window.ts';
import { mergePoint, newPoints } from '#core/metrics/points.ts';
import { countSeen, growthPower, type SeenValues } from '#core/metrics/seen-values.ts';
import type { DistinctEstimate } from '#core/metrics/series-estimate.ts';
import { unpackToldMetrics } from '#core/metrics/told-metrics.ts';
import type { MetricDocument, PlanDocument } from '#core/plan/document.ts';
import type { OperationSetting } from '../operations/setting.ts';
import { overTape, tapeStretch } from './over-tape.ts';

/** Most taped records that a metric is tried on. */
const mostRecords = 60_000;
/** A key of which so many values come in 30 days, and more all the time, is without end. */
const manyValues = 500;
const openPower = 0.4;
/** Lines of the chart, values that are told of a key, and the top that is offered. */
const mostLines = 6;
const mostSamples = 12;
const offeredTop = 20;
const month = 30 * 24 * hour;

type Setting = Pick<OperationSetting, 'database' | 'pools' | 'senders'> & {
  readonly plan: PlanDocument;
  readonly signal: AbortSignal;
};

/** Tries a metric on the tape of the last day. Without one, nothing is known. */
export async function runMetricTrial(
  { database, pools, senders, plan, signal }: Setting,
  metric: MetricDocument | undefined,
  coinsOf: (series: number) => number,
  now: number,
): Promise<MetricTrialAnswer> {
  const window = metricWindow(now - tapeStretch, now, now - 60 * 24 * hour);
  const spans = { from: window.from, to: window.to, every: window.every };
  if (!metric) return { ...nothing, ...spans };
  const trial = newMetricTrial(compileMetric(metric));
  const { tables, fleets } = senders;
  await overTape(
    { database, pools, now, mostRecords, signal },
    (lane, part) =>
      pools.read(lane, {
        kind: 'metricTrial',
        plan,
        metric,
        tables,
        fleets,
        now,
        half: now - tapeStretch / 2,
        ...part,
      }),
    ({ told, ...part }) => {
      mergeTrials(trial, part);
      for (const one of unpackToldMetrics(told)) trial.take.merge(one);
    },
  );
  return { ...nothing, ...spans, ...told(trial, metric, coinsOf, window) };
}

const nothing: Omit<MetricTrialAnswer, 'from' | 'to' | 'every'> = {
  ...{ records: 0, events: 0, currency: null, inMonth: 0, inAll: 0, coins: 0 },
  series: { likely: 0, least: 0, most: 0 },
  ...{ keys: [], figures: [], lines: [], otherCount: 0, problems: [] },
  whole: { labels: [], values: [], all: null },
};

function told(
  trial: MetricTrial,
  metric: MetricDocument,
  coinsOf: (series: number) => number,
  window: MetricWindow,
): Partial<MetricTrialAnswer> {
  const { take, records, events } = trial;
  const inTime = (seen: SeenValues, time: number): number =>
    Math.round(countSeen(seen, trial).likely * (time / tapeStretch) ** growthPower(seen, trial));
  const inMonth = inTime(trial.combinations, month);
  const keys = take.metric.keys.map((key, i): TriedKey => {
    const seen = trial.keys[i] as SeenValues;
    const others = inTime(trial.without[i] as SeenValues, month);
    const top = Math.min(inMonth, others * (offeredTop + 1));
    return {
      name: key.name,
      values: rounded(countSeen(seen, trial)),
      isOpen: inTime(seen, month) > manyValues && growthPower(seen, trial) > openPower,
      samples: [...(trial.values[i] ?? [])]
        .sort((a, b) => b[1] - a[1])
        .slice(0, mostSamples)
        .map(([value, count]) => ({ value, share: events > 0 ? count / events : 0 })),
      without: { series: others, coins: coinsOf(others) },
      top: { series: top, coins: coinsOf(top) },
    };
  });
  const { measure, aggregates } = take.metric;
  const builder = new WindowBuilder(
    window,
    aggregates,
    () => ({}),
    take.metric.keys.map(({ name }) => name),
  );
  const all = newPoints(aggregates, 1);
  take.cells.forEach(({ start, labels }, place) => {
    builder.addCell(
      Object.fromEntries(take.metric.keys.map(({ name }, i) => [name, labels[i] ?? null])),
      start,
      take.points,
      place,
    );
    mergePoint(all, 0, take.points, place);
  });
  const table = builder.table(measure, 0, mostLines);
  const line = ({ labels, values, all: whole }: (typeof table)['whole']) => ({
    labels,
    values: values.map((value) => (typeof value === 'number' ? value : null)),
    all: typeof whole === 'number' ? whole : null,
  });
  return {
    ...{ records, events, keys, inMonth },
    series: rounded(countSeen(trial.combinations, trial)),
    inAll: inTime(trial.combinations, metricKeep(metric)),
    coins: coinsOf(Math.min(inMonth, limitOf(metric))),
    figures:
      take.cells.length === 0
        ? []
        : measure.figures.map(({ name, of }) => {
            const value = of(all.states, 0, tapeStretch / 1_000);
            return { name, value: typeof value === 'number' ? value : null };
          }),
    whole: line(table.whole),
    lines: table.groups.map(line),
    otherCount: table.otherCount,
  };
}

function rounded({ likely, least, most }: DistinctEstimate): DistinctEstimate {
  return { likely: Math.round(likely), least: Math.round(least), most: Math.round(most) };
}
