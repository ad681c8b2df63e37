import { packMetricDeltas } from '#core/metrics/metric-delta.ts';
import { type MetricTrial, newMetricTrial, tryMetric } from '#core/metrics/metric-trial.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import { seededRandom } from '#core/routing/route.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import { compiledPlan } from '../plans.ts';
import { currentShape, withShapes } from '../shapes.ts';
import { tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';

/** A metric that is tried on a part of the tape. */
export interface MetricTrialTask {
  readonly kind: 'metricTrial';
  readonly chunks: readonly number[];
  /** For how many taped records each of these stands. */
  readonly standsFor: number;
  /** The plan that its events go through, without its metrics. */
  readonly plan: PlanDocument;
  readonly metric: MetricDocument;
  readonly tables: Readonly<Record<string, number>>;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
  /** By what steps it is shown, in milliseconds. */
  readonly every: number;
  /** When the first half of the tape's time ends (milliseconds). */
  readonly half: number;
}

/** What a metric would be made of, by a part of the tape. */
export interface MetricTrialPart extends Omit<MetricTrial, 'accumulator'> {
  /** Its points, packed (`unpackMetricDeltas`). */
  readonly deltas: Uint8Array;
}

/** Tries a metric on a part of the tape. */
export async function metricTrial(task: MetricTrialTask): Promise<MetricTrialPart> {
  const { now, fleets } = task;
  const plan = await compiledPlan({ ...task.plan, metrics: [task.metric] }, task.tables);
  const [metric] = plan.metrics;
  if (!metric) throw new Error('There is no metric to be tried.');
  const trial = newMetricTrial(metric, task.every);
  for (const raw of tapedBatches(
    await retryRead(() => readTape(workerDatabase(), task.chunks)),
    [plan],
    task.standsFor,
  )) {
    const batch = withShapes(raw);
    const context = { now, currentShape, fleets: fleets.get(raw.source) ?? [] };
    tryMetric(trial, plan.run(batch, { ...context, random: seededRandom(1) }).arrived, context, task.half);
  }
  const { accumulator, ...part } = trial;
  return { ...part, deltas: packMetricDeltas([accumulator]) };
}
