import type { StepResources } from '../../steps/step.ts';
import type { PlanDocument } from '../document.ts';
import { compileMetrics } from './metrics/metric.ts';
import { compilePipelines } from './pipelines/compile-pipeline.ts';
import { compilePostures } from './postures/compile-postures.ts';
import { compileRankings } from './rankings/ranking.ts';
import { compileTiers } from './tiers/compile-tier.ts';

/** How each part that runs over events is compiled. */
const compilers = {
  pipelines: compilePipelines,
  tiers: compileTiers,
  metrics: compileMetrics,
  rankings: compileRankings,
  postures: compilePostures,
};

/** The parts of a plan, ready to run over batches. */
export type CompiledParts = { readonly [Key in keyof typeof compilers]: ReturnType<(typeof compilers)[Key]> };

/** Compiles the parts of a plan that has been checked; throws on one that is wrong. */
export function compileParts(plan: PlanDocument, resources: StepResources): CompiledParts {
  const compiled = Object.entries(compilers).map(([key, compile]) => [key, compile(plan, resources)]);
  // Each key has what its compiler gave.
  return Object.fromEntries(compiled) as CompiledParts;
}
