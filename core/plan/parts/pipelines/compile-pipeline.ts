import { conditionOf } from '../../../conditions/condition.ts';
import type { CompiledPipeline, CompiledStep } from '../../../pipelines/run-pipelines.ts';
import { stepKinds } from '../../../steps/index.ts';
import { noResources, type StepResources } from '../../../steps/step.ts';
import { type StepDocument, stepParts } from '../../../steps/step-document.ts';
import type { PlanDocument } from '../../document.ts';
import type { PipelineDocument } from './pipelines-shape.ts';

/** Compiles the pipelines of a plan that has been checked. */
export function compilePipelines(
  { pipelines }: Pick<PlanDocument, 'pipelines'>,
  resources: StepResources,
): readonly CompiledPipeline[] {
  return pipelines.map((pipeline) => compilePipeline(pipeline, resources));
}

/** Compiles a checked pipeline. */
export function compilePipeline(document: PipelineDocument, resources: StepResources = noResources): CompiledPipeline {
  return {
    id: document.id,
    when: conditionOf(document.when),
    steps: compileSteps(document.steps, `${document.id}/`, resources),
  };
}

function compileSteps(
  documents: readonly StepDocument[],
  prefix: string,
  resources: StepResources,
): readonly CompiledStep[] {
  return documents.map((document, index) => {
    const { kind, options, when, onFailure } = stepParts(document);
    const known = stepKinds.get(kind);
    if (!known) throw new Error(`there is no step ${kind}`);
    const rule = `${prefix}${index + 1}`;
    const cast = known.schema.cast(options);
    return {
      rule,
      when: when === '' ? undefined : conditionOf(when),
      onFailure,
      run: known.compile(cast, resources),
      dependsOnNeighbours: known.dependsOnNeighbours ?? false,
      branches: (known.branches?.(cast) ?? []).map((branch, number) => ({
        when: branch.when === undefined ? undefined : conditionOf(branch.when),
        steps: compileSteps(branch.steps, `${rule}.${number + 1}.`, resources),
      })),
    };
  });
}
