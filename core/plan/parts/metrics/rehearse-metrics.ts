import { encode, hashBytes } from '../../../events/text-table.ts';
import type { CompiledMetric } from '../../../metrics/compiled-metric.ts';
import { labelsId } from '../../../metrics/labels.ts';
import { measures } from '../../../metrics/measures/index.ts';
import { MetricAccumulator } from '../../../metrics/metric-accumulator.ts';
import { mergePoint, newPoints, type Points } from '../../../metrics/points.ts';
import type { RouteContext, RoutedBatch } from '../../../routing/route.ts';
import {
  addToSample,
  type DistinctSample,
  mergeSamples,
  newDistinctSample,
} from '../../../sketches/distinct-sample.ts';
import { isNear } from '../is-near.ts';
import type { PartRehearsal } from '../part-rehearsal.ts';

/** What a plan makes of a metric over rehearsed events. Plain data. */
export interface MetricEffect {
  readonly name: string;
  readonly measure: string;
  readonly unit: string;
  events: number;
  /** One place: all events together. */
  readonly points: Points;
  readonly series: DistinctSample;
}

/** By the id of the metric. */
export type MetricEffects = Map<string, MetricEffect>;

/** What a rehearsal computes of metrics. */
export const metricRehearsal: PartRehearsal<MetricEffects, readonly RehearsedMetric[]> = {
  begin: () => new Map(),
  add: (effects, { metrics }, routed, context) => addMetricEffects(effects, metrics, routed, context),
  merge: mergeMetricEffects,
  compare: rehearsedMetrics,
};

/** Adds what metrics keep of a batch. */
export function addMetricEffects(
  effects: MetricEffects,
  metrics: readonly CompiledMetric[],
  { arrived }: RoutedBatch,
  context: RouteContext,
): void {
  for (const metric of metrics) {
    const accumulator = new MetricAccumulator(metric);
    accumulator.add(arrived, context, context.since);
    let effect = effects.get(metric.id);
    if (!effect) effects.set(metric.id, (effect = newEffect(metric)));
    for (const [place, { labels }] of accumulator.cells.entries()) {
      mergePoint(effect.points, 0, accumulator.points, place);
      effect.events += accumulator.events[place] as number;
      const id = encode(labelsId(labels));
      addToSample(effect.series, hashBytes(id, 0, id.length));
    }
  }
}

function newEffect({ name, measure, unit, aggregates }: CompiledMetric): MetricEffect {
  const points = newPoints(aggregates, 1);
  return { name, measure: measure.name, unit, events: 0, points, series: newDistinctSample() };
}

/** Adds all of `other`. */
export function mergeMetricEffects(effects: MetricEffects, other: MetricEffects): void {
  for (const [id, effect] of other) {
    const known = effects.get(id);
    if (!known) {
      effects.set(id, effect);
      continue;
    }
    known.events += effect.events;
    if (effect.points.filled[0] === 1) mergePoint(known.points, 0, effect.points, 0);
    mergeSamples(known.series, effect.series);
  }
}

/** What a metric comes to. */
export interface RehearsedFigure {
  readonly events: number;
  /** Of the figure that is shown of it; null where nothing came. */
  readonly value: number | null;
  /** Combinations of its keys among the taped events: at least so many series. */
  readonly series: number;
}

/** A metric by both plans; null where a plan does not have it. */
export interface RehearsedMetric {
  readonly id: string;
  readonly name: string;
  readonly figure: string;
  readonly unit: string;
  readonly live: RehearsedFigure | null;
  readonly draft: RehearsedFigure | null;
}

/** The metrics of both plans, those of the draft first; `seconds` is the time that was rehearsed. */
export function rehearsedMetrics(
  live: MetricEffects,
  draft: MetricEffects,
  seconds: number,
): readonly RehearsedMetric[] {
  return [...new Set([...draft.keys(), ...live.keys()])].map((id) => {
    const shown = (draft.get(id) ?? live.get(id)) as MetricEffect;
    return {
      ...{ id, name: shown.name, unit: shown.unit },
      figure: measures.get(shown.measure)?.figures[0]?.name ?? '',
      live: figureOf(live.get(id), seconds),
      draft: figureOf(draft.get(id), seconds),
    };
  });
}

function figureOf(effect: MetricEffect | undefined, seconds: number): RehearsedFigure | null {
  if (!effect) return null;
  const { points, measure, events, series } = effect;
  const value = points.filled[0] === 1 ? measures.get(measure)?.figures[0]?.of(points.states, 0, seconds) : null;
  return {
    events,
    value: typeof value === 'number' ? value : null,
    series: series.kept.size * 2 ** series.halvings,
  };
}

/** Whether a draft leaves a metric as it is: the same figure, to half a hundredth, and as many series. */
export function isLeftAlone({ live, draft }: Pick<RehearsedMetric, 'live' | 'draft'>): boolean {
  if (!live || !draft) return false;
  return isNear(live.events, draft.events) && isNear(live.value ?? 0, draft.value ?? 0) && live.series === draft.series;
}
