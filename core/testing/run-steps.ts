import { eventAt } from '../events/batch.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import { fieldsOf } from '../plan/event-fields.ts';
import { checkStep } from '../plan/parts/pipelines/check-step.ts';
import { compilePipeline } from '../plan/parts/pipelines/compile-pipeline.ts';
import type { StepResources } from '../steps/step.ts';
import type { StepDocument } from '../steps/step-document.ts';
import { parseTable } from '../tables/table.ts';
import { arrival, batchOfLines } from './batch-of.ts';

const ports = parseTable('code,port,region\nSKV,Skerryvoe,"north, outer"\nTRN,Tarnholm,south\n');

/** A table of ports and a single known address. */
export const resources: StepResources = {
  table: (name) => (name === 'ports' && ports.ok ? ports.table : undefined),
  place: (address) =>
    address === '198.51.100.9' ? { code: 'NO', country: 'Norway', latitude: 61.5, longitude: 9 } : undefined,
};

/** Runs steps, which must be right, over lines as they arrive: the events as fields, and what became of them. */
export function runSteps(steps: readonly StepDocument[], lines: readonly string[], using: StepResources = resources) {
  const problems = steps.flatMap((step) => checkStep(step, 'step'));
  if (problems[0]) throw new Error(`${problems[0].path}: ${problems[0].message}`);
  const pipeline = compilePipeline({ id: 'p', title: 'P', when: '', steps }, using);
  const { batch, fates, exits, read } = runPipelines([pipeline], batchOfLines(lines), { now: arrival });
  const events = Array.from({ length: batch.rows }, (_, row) => fieldsOf(eventAt(batch, row)));
  return { events, fates: [...fates], exits, batch, read };
}

/** The events that steps make of objects, each read as a JSON line. */
export function runOn(steps: readonly StepDocument[], ...objects: readonly object[]) {
  return runSteps(
    steps,
    objects.map((object) => JSON.stringify(object)),
  ).events;
}
