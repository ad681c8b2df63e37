import type { EventBatch } from '../events/batch.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import { type RouteContext, type RoutedBatch, routeBatch } from '../routing/route.ts';
import { noResources, type StepResources } from '../steps/step.ts';
import { cutSince } from './cut-since.ts';
import type { PlanDocument } from './document.ts';
import { type CompiledParts, compileParts } from './parts/compiled-parts.ts';

/** A plan ready to run over batches. */
export interface CompiledPlan extends CompiledParts {
  /** Parses and routes a batch of raw events. */
  readonly run: (batch: EventBatch, context: RouteContext) => RoutedBatch;
}

/** Compiles a plan that has been checked; throws on one that is wrong. */
export function compilePlan(plan: PlanDocument, resources: StepResources = noResources): CompiledPlan {
  const parts = compileParts(plan, resources);
  const { pipelines, tiers } = parts;
  return {
    ...parts,
    run: (batch, context) =>
      routeBatch(cutSince(runPipelines(pipelines, batch, context), context.since), tiers, context),
  };
}
