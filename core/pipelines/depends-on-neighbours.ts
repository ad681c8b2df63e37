import type { CompiledPipeline, CompiledStep } from './run-pipelines.ts';

/** Whether any step of some pipelines joins events: then events have to be run with those that they arrived with, and no others. */
export function dependsOnNeighbours(pipelines: readonly CompiledPipeline[]): boolean {
  const depends = (step: CompiledStep): boolean =>
    step.dependsOnNeighbours || step.branches.some(({ steps }) => steps.some(depends));
  return pipelines.some(({ steps }) => steps.some(depends));
}
