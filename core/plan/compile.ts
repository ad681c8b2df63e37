import type { EventBatch } from '../events/batch.ts';
import { type CompiledMetric, compileMetric } from '../metrics/metric.ts';
import { type RouteContext, type RoutedBatch, routeBatch } from '../routing/route.ts';
import { type CompiledTier, compileTier } from '../routing/tier.ts';
import { noResources, type StepResources } from '../steps/step.ts';
import { type CompiledRanking, compileRanking } from '../talkers/ranking.ts';
import { cutSince } from './cut-since.ts';
import type { PlanDocument } from './document.ts';
import { type CompiledPipeline, compilePipeline, runPipelines } from './pipeline.ts';

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
