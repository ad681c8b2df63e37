import type { Condition } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import type { Mask } from '../conditions/mask.ts';
import { type EventBatch, failureAttribute, withAttribute } from '../events/batch.ts';
import { type TextColumn, TextColumnBuilder, textColumn } from '../events/columns.ts';
import { growth } from '../events/footprint.ts';
import { pick } from '../events/select.ts';
import type { Failures, StepFunction } from '../steps/step.ts';
import type { OnFailure } from '../steps/step-document.ts';
import { addStepMeasure, fewestTimed, type StepMeasures } from './step-measures.ts';

/** A step ready to run. */
export interface CompiledStep {
  /** `pipeline/number`, inside a choice `pipeline/number.branch.number`: the rule under which what it does is counted. */
  readonly rule: string;
  readonly when: Condition | undefined;
  readonly onFailure: OnFailure;
  readonly run: StepFunction;
  /** Whether its result for an event depends on the events that arrive together with it. */
  readonly dependsOnNeighbours: boolean;
  /** For a choice: its branches, each with the condition for entering it (none: all others). */
  readonly branches: readonly { readonly when: Condition | undefined; readonly steps: readonly CompiledStep[] }[];
}

/** A pipeline ready to run. */
export interface CompiledPipeline {
  readonly id: string;
  readonly when: Condition;
  readonly steps: readonly CompiledStep[];
}

/** What a run of pipelines may refer to, and where it tells what the steps did. */
export interface PipelineContext extends ConditionContext {
  readonly measures?: StepMeasures;
  /** Whether steps are weighed too: by how many bytes they make events grow or shrink. */
  readonly weigh?: boolean;
}

/** What became of each event: 0 it goes on to the tiers, otherwise 1 + an index into `exits`. */
export interface PipelineResult {
  readonly batch: EventBatch;
  /** The same events, row by row, as they were before any step (but for lists split and lines joined). */
  readonly read: EventBatch;
  readonly fates: Uint16Array;
  readonly exits: readonly { readonly outcome: 'rejected' | 'discarded'; readonly rule: string }[];
}

/** A batch on its way through the steps. */
interface Run {
  batch: EventBatch;
  read: EventBatch;
  fates: Uint16Array;
  readonly exits: { outcome: 'rejected' | 'discarded'; rule: string }[];
  /** The masks of those who wait for steps to come back; steps that change rows change them too. */
  readonly masks: Mask[];
  readonly context: PipelineContext;
}

/** Runs the pipelines over a batch, in order; an event passes all that it matches. */
export function runPipelines(
  pipelines: readonly CompiledPipeline[],
  batch: EventBatch,
  context: PipelineContext,
): PipelineResult {
  const run: Run = { batch, read: batch, fates: new Uint16Array(batch.rows), exits: [], masks: [], context };
  for (const pipeline of pipelines) {
    const entered = pipeline.when.test(run.batch, context);
    if (entered.includes(1)) runSteps(run, pipeline.steps, entered);
  }
  const { read, fates, exits } = run;
  return { batch: run.batch, read, fates, exits };
}

/** Runs steps on the chosen rows, and keeps the mask of those rows right while rows come and go. */
function runSteps(run: Run, steps: readonly CompiledStep[], entered: Mask): void {
  const place = run.masks.push(entered) - 1;
  for (const step of steps) {
    const rows = chosenRows(run.masks[place] as Mask, run.fates, step.when?.test(run.batch, run.context));
    if (!rows.includes(1)) continue;
    if (step.branches.length > 0) runBranches(run, step, rows);
    else runStep(run, step, rows);
  }
  run.masks.pop();
}

/** Every row enters the first branch that it fits; which one is decided before any of them runs. */
function runBranches(run: Run, step: CompiledStep, rows: Mask): void {
  const open = rows.slice();
  const first = run.masks.length;
  for (const { when } of step.branches) {
    const isOpen = open.slice();
    const mask = when?.test(run.batch, run.context);
    for (let row = 0; row < isOpen.length; row++) {
      if (mask && mask[row] === 0) isOpen[row] = 0;
      if (isOpen[row] === 1) open[row] = 0;
    }
    run.masks.push(isOpen);
  }
  step.branches.forEach(({ steps }, index) => {
    const entered = run.masks[first + index] as Mask;
    if (entered.includes(1)) runSteps(run, steps, entered);
  });
  run.masks.length = first;
}

function runStep(run: Run, step: CompiledStep, rows: Mask): void {
  const { measures, weigh } = run.context;
  const before = run.batch;
  const started = measures ? performance.now() : 0;
  const { batch, failures, origin } = step.run(before, rows);
  if (measures) {
    const events = count(rows);
    addStepMeasure(measures, step.rule, {
      events,
      failed: failures ? failures.codes.reduce((sum, code) => sum + (code === 0 ? 0 : 1), 0) : 0,
      timedEvents: events < fewestTimed ? 0 : events,
      milliseconds: events < fewestTimed ? 0 : performance.now() - started,
      weighedEvents: weigh ? events : 0,
      weighedGrowth: weigh ? growth(before, batch) : 0,
    });
  }
  run.batch = batch;
  if (origin) follow(run, origin);
  if (!failures) return;
  run.batch = marked(run.batch, failures, step.rule);
  if (step.onFailure === 'keep') return;
  const exit = run.exits.push({ outcome: step.onFailure === 'reject' ? 'rejected' : 'discarded', rule: step.rule });
  const { codes } = failures;
  for (let row = 0; row < codes.length; row++) if (codes[row] !== 0) run.fates[row] = exit;
}

/** Brings everything that is known by row in line with rows that came and went. */
function follow(run: Run, origin: Int32Array): void {
  const { fates } = run;
  run.read = run.batch;
  run.fates = pick(fates, origin, new Uint16Array(origin.length));
  run.masks.forEach((mask, index) => {
    run.masks[index] = pick(mask, origin, new Uint8Array(origin.length));
  });
}

function count(rows: Mask): number {
  let sum = 0;
  for (let row = 0; row < rows.length; row++) sum += rows[row] as number;
  return sum;
}

function chosenRows(entered: Mask, fates: Uint16Array, guard: Mask | undefined): Mask {
  const rows = new Uint8Array(entered.length);
  for (let row = 0; row < rows.length; row++) {
    rows[row] = entered[row] === 1 && fates[row] === 0 && (guard === undefined || guard[row] === 1) ? 1 : 0;
  }
  return rows;
}

/** Marks failed rows with the rule and the reason; the first failure of an event stays. */
function marked(batch: EventBatch, failures: Failures, rule: string): EventBatch {
  const { codes, reasons } = failures;
  const before = batch.attributes.get(failureAttribute)?.text;
  const parsed = batch.parsed.slice();
  const texts = reasons.map((reason) => `${rule}: ${reason}`);
  for (let row = 0; row < codes.length; row++) if (codes[row] !== 0) parsed[row] = 0;
  const text = before ? merged(before, codes, texts) : fresh(codes, texts);
  return { ...withAttribute(batch, failureAttribute, { text }), parsed };
}

function fresh(codes: Uint16Array, texts: readonly string[]): TextColumn {
  const places = new Int32Array(codes.length);
  for (let row = 0; row < codes.length; row++) places[row] = (codes[row] as number) - 1;
  return { codes: places, table: textColumn(texts).table, unique: true };
}

function merged(before: TextColumn, codes: Uint16Array, texts: readonly string[]): TextColumn {
  const builder = new TextColumnBuilder(codes.length);
  const { bytes, offsets } = before.table;
  for (let row = 0; row < codes.length; row++) {
    const code = before.codes[row] as number;
    if (code >= 0) builder.set(row, bytes, offsets[code] as number, offsets[code + 1] as number);
    else if (codes[row] !== 0) builder.setText(row, texts[(codes[row] as number) - 1] as string);
  }
  return builder.column(codes.length);
}
