import { eventAt } from '../events/batch.ts';
import { encode } from '../events/text-table.ts';
import { readRecords } from '../formats/read.ts';
import { joinMessages } from '../formats/records.ts';
import { trialHash } from '../masks/keyed-hash.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import { noResources, type StepResources } from '../steps/step.ts';
import type { PlanDocument } from './document.ts';
import { fieldsOf } from './event-fields.ts';
import { mayEnter } from './may-enter.ts';
import { namedSource } from './named-source.ts';
import { compilePipeline } from './parts/pipelines/compile-pipeline.ts';
import type { PipelineDocument, PipelineTest } from './parts/pipelines/pipelines-shape.ts';
import type { PlanProblem } from './plan-problem.ts';

/** When samples arrive that do not say it, in milliseconds: a fixed time, so that tests say the same on any day. */
const someArrival = Date.UTC(2026, 0, 15, 12);

type FieldValue = string | number | boolean;

/** What became of one test. */
export interface TestOutcome {
  readonly name: string;
  readonly passed: boolean;
  /** Each field that was expected, with what came out (null: nothing). */
  readonly fields: readonly {
    readonly field: string;
    readonly expected: FieldValue | null;
    readonly actual: FieldValue | null;
  }[];
  /** Why it could not be run at all. */
  readonly problem?: string;
}

/** Runs one test of a checked pipeline. */
export function runTest(
  pipeline: PipelineDocument,
  { name, input, arrived, expect }: PipelineTest,
  resources: StepResources = noResources,
): TestOutcome {
  const arrival = arrived === undefined ? someArrival : Date.parse(arrived);
  const source = namedSource(pipeline.when) || 'test';
  const context = { received: arrival, backfill: false };
  const { batch, problems } = readRecords(source, joinMessages([encode(input)]), 'auto', context);
  if (batch.rows === 0)
    return { name, passed: false, fields: [], problem: problems[0]?.message ?? 'the input is no record' };
  if (mayEnter(pipeline.when, batch, arrival)[0] !== 1) {
    return { name, passed: false, fields: [], problem: `the input does not enter the pipeline: ${pipeline.when}` };
  }
  const run = runPipelines([compilePipeline({ ...pipeline, when: '' }, forTrial(resources))], batch, {
    now: arrival,
  });
  const actual: Readonly<Record<string, FieldValue>> = fieldsOf(eventAt(run.batch, 0));
  const fields = Object.entries(expect).map(([field, expected]) => ({
    field,
    expected,
    actual: actual[field] ?? null,
  }));
  return { name, passed: fields.every(({ expected, actual: got }) => expected === got), fields };
}

/** What steps look up, with a hash that is the same on every installation: what a test expects holds everywhere. */
function forTrial(resources: StepResources): StepResources {
  return {
    table: (name) => resources.table(name),
    place: (address) => resources.place(address),
    hash: trialHash,
  };
}

/** The tests that fail, as problems of a checked plan; none when all pass. */
export function runTests(plan: PlanDocument, resources: StepResources = noResources): readonly PlanProblem[] {
  return plan.pipelines.flatMap((pipeline, index) =>
    (pipeline.tests ?? []).flatMap((test, number) => {
      const outcome = runTest(pipeline, test, resources);
      if (outcome.passed) return [];
      const wrong = outcome.fields.find(({ expected, actual }) => expected !== actual);
      const reason =
        outcome.problem ?? `${wrong?.field} is ${written(wrong?.actual)}, expected ${written(wrong?.expected)}`;
      return [
        {
          path: `pipelines[${index}].tests[${number}]`,
          message: `test “${test.name}” of “${pipeline.title}” fails: ${reason}`,
        },
      ];
    }),
  );
}

function written(value: FieldValue | null | undefined): string {
  return value === null || value === undefined ? 'absent' : JSON.stringify(value);
}
