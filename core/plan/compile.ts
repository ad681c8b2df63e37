import type { EventBatch } from '../events/batch.ts';
import type { CompiledMetric } from '../metrics/compiled-metric.ts';
import { type CompiledPipeline, runPipelines } from '../pipelines/run-pipelines.ts';
import type { CompiledTier } from '../routing/compiled-tier.ts';
import { type RouteContext, type RoutedBatch, routeBatch } from '../routing/route.ts';
import { noResources, type StepResources } from '../steps/step.ts';
import type { CompiledRanking } from '../talkers/compiled-ranking.ts';
import { cutSince } from './cut-since.ts';
import type { PlanDocument } from './document.ts';
import { compileMetric } from './parts/metrics/metric.ts';
import { compilePipeline } from './parts/pipelines/compile-pipeline.ts';
import { compileRanking } from './parts/rankings/ranking.ts';
import { compileTier } from './parts/tiers/compile-tier.ts';

/** A plan ready to run over batches. */
export interface CompiledPlan {
  readonly pipelines: readonly CompiledPipeline[];
  readonly tiers: readonly CompiledTier[];
  readonly metrics: readonly CompiledMetric[];
  readonly rankings: readonly CompiledRanking[];
  /** Parses and routes a batch of raw events. */
  readonly run: (batch: EventBatch, context: RouteContext) => RoutedBatch;
}

/** Compiles a plan that has been checked; throws on one that is wrong. */
export function compilePlan(plan: PlanDocument, resources: StepResources = noResources): CompiledPlan {
  const pipelines = plan.pipelines.map((pipeline) => compilePipeline(pipeline, resources));
  const tiers = plan.tiers.map(compileTier);
  return {
    pipelines,
    tiers,
    metrics: (plan.metrics ?? []).map((metric) => compileMetric(metric, resources)),
    rankings: (plan.rankings ?? []).map(compileRanking),
    run: (batch, context) =>
      routeBatch(cutSince(runPipelines(pipelines, batch, context), context.since), tiers, context),
  };
}
