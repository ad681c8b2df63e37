import { stringify } from 'yaml';
import { type PlaceOf, readYaml, type TextProblem } from '../input/read-yaml.ts';
import { checkPlan } from './check.ts';
import { firstPlan, type PlanDocument } from './document.ts';
import type { PipelineDocument } from './parts/pipelines/pipelines-shape.ts';

export type ReadPlan =
  | { readonly ok: true; readonly plan: PlanDocument }
  | { readonly ok: false; readonly problems: readonly TextProblem[] };

/** A plan as YAML. */
export function writePlan(plan: PlanDocument): string {
  return stringify(plan, { lineWidth: 0 });
}

/** One pipeline as YAML, under the key `pipeline`. */
export function writePipeline(pipeline: PipelineDocument): string {
  return stringify({ pipeline }, { lineWidth: 0 });
}

/** Where things stand in the text of a plan that was read. */
export function placesIn(text: string): PlaceOf {
  const read = readYaml(text);
  return 'problems' in read ? () => ({ line: 1, column: 1 }) : read.placeOf;
}

/** Reads a plan from YAML (or JSON, which YAML 1.2 contains) and checks it; every fault is named with its place. */
export function readPlan(text: string): ReadPlan {
  const read = readYaml(text);
  if ('problems' in read) return { ok: false, problems: read.problems };
  const checked = checkPlan(read.value);
  if (checked.ok) return checked;
  return { ok: false, problems: checked.problems.map((problem) => ({ ...problem, ...read.placeOf(problem.path) })) };
}

export type ReadPipeline =
  | { readonly ok: true; readonly pipeline: PipelineDocument }
  | { readonly ok: false; readonly problems: readonly TextProblem[] };

/** Reads what {@link writePipeline} wrote, and checks it. */
export function readPipeline(text: string): ReadPipeline {
  const read = readYaml(text);
  if ('problems' in read) return { ok: false, problems: read.problems };
  const value: unknown = read.value;
  const pipeline = typeof value === 'object' && value !== null && 'pipeline' in value ? value.pipeline : undefined;
  const checked = checkPlan({ ...firstPlan, pipelines: [pipeline] });
  if (checked.ok) return { ok: true, pipeline: checked.plan.pipelines[0] as PipelineDocument };
  return {
    ok: false,
    problems: checked.problems.map((problem) => {
      const path = problem.path.replace(/^pipelines\[0\]/, 'pipeline');
      return { ...problem, path, ...read.placeOf(path) };
    }),
  };
}
