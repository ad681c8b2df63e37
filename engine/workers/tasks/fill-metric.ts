import { columnsToFill, FillAccumulators, type FillBounds } from '#core/metrics/fill-accumulators.ts';
import { packMetricDeltas } from '#core/metrics/metric-delta.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import { retryRead } from '#store/retry-read.ts';
import { handedOver } from '../handed-over.ts';
import { compiledPlan } from '../plans.ts';
import type { SegmentCache, SegmentRef } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';

/** Stored events that a metric is filled in from. */
export interface FillMetricTask extends FillBounds {
  readonly kind: 'fillMetric';
  readonly metric: MetricDocument;
  readonly segments: readonly SegmentRef[];
  readonly tables: Readonly<Record<string, number>>;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

/** What a metric would have kept of them, packed in pieces (`unpackMetricDeltas`); undefined where some are there no more. */
export type FillMetricResult = readonly Uint8Array[] | undefined;

/** Segments that are open at once. */
const atOnce = 8;

/** Gathers what a metric would have kept of stored events. */
export async function fillMetric(cache: SegmentCache, task: FillMetricTask): Promise<FillMetricResult> {
  const { metric, segments, tables, fleets, now, from, to } = task;
  const plan = await compiledPlan({ plan: 1, pipelines: [], tiers: [], metrics: [metric] }, tables);
  const [compiled] = plan.metrics;
  if (!compiled) throw new Error('There is no metric to be filled in.');
  const accumulators = new FillAccumulators(compiled, { from, to });
  const wanted = columnsToFill(compiled);
  for (let i = 0; i < segments.length; i += atOnce) {
    const batches = await retryRead(() => cache.batches(segments.slice(i, i + atOnce), () => wanted));
    for (const batch of batches) {
      if (!batch) return undefined;
      accumulators.add(batch, { now, currentShape, fleets: fleets.get(batch.source) ?? [] });
    }
  }
  const pieces = accumulators.list().map((accumulator) => packMetricDeltas([accumulator]));
  return handedOver(pieces, pieces);
}
