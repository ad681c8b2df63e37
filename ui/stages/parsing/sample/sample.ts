import { type EventBatch, type EventRecord, eventAt } from '#core/events/batch.ts';
import { attributeBytes, bodyBytes } from '#core/events/footprint.ts';
import { gather } from '#core/events/select.ts';
import { decode, encode } from '#core/events/text-table.ts';
import { readRecords } from '#core/formats/read.ts';
import { joinMessages } from '#core/formats/records.ts';
import { runPipelines } from '#core/pipelines/run-pipelines.ts';
import { fewestTimed, type StepMeasures, stepTime } from '#core/pipelines/step-measures.ts';
import { mayEnter } from '#core/plan/may-enter.ts';
import { checkStep } from '#core/plan/parts/pipelines/check-step.ts';
import { compilePipeline } from '#core/plan/parts/pipelines/compile-pipeline.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import { runTest, type TestOutcome } from '#core/plan/run-tests.ts';
import { noResources, type StepResources } from '#core/steps/step.ts';
import { stepParts } from '#core/steps/step-document.ts';
import { type Proposal, propose } from '#core/templates/propose.ts';
import { compileTemplate, type Template } from '#core/templates/template.ts';

/** What is to be tried out on sample lines. */
export interface SampleRequest {
  readonly source: string;
  readonly lines: readonly string[];
  /** The lines that count, from `from` up to `to`; the others were pasted or searched for, and are only shown. */
  readonly counted: { readonly from: number; readonly to: number };
  readonly pipeline: PipelineDocument;
  /** The step that is looked at, from 0. */
  readonly step: number;
  /** The line that is followed through all steps, by its place among `lines`. */
  readonly followed: number;
  /** Lines of which pieces are marked, by their places: they are in the answer whatever they fit. */
  readonly marked: readonly number[];
}

/** A piece of a line: what hole it fills, or none. */
export interface LinePiece {
  readonly text: string;
  readonly hole?: number;
  readonly name?: string;
  /** Where the template stopped fitting. */
  readonly fault?: boolean;
}

export interface SampleLine {
  readonly place: number;
  readonly fits: boolean;
  /** The text that the step looks at. */
  readonly text: string;
  /** Which of the templates fitted. */
  readonly template?: number;
  /** For a misfit: what was expected where it stopped fitting. */
  readonly reason?: string;
  readonly pieces: readonly LinePiece[];
}

/** The followed line after a step (first: as it was read). */
export interface TrailState {
  readonly event: EventRecord;
  /** Bytes of its body and fields. */
  readonly bytes: number;
  /** Time the step took for it, in microseconds. */
  readonly microseconds: number;
  /** How many events it has become. */
  readonly events: number;
}

export interface SampleAnswer {
  /** Whose lines were tried, and how many. */
  readonly source: string;
  readonly tried: number;
  /** Lines that do not fit first: some of each reason, and some of those that fit. */
  readonly lines: readonly SampleLine[];
  /** Why lines do not fit, with the number of counted lines, most frequent first; 0 if only pasted or looked-up lines fail this way. */
  readonly reasons: readonly (readonly [reason: string, count: number])[];
  readonly entered: number;
  readonly fitted: number;
  /** The followed line as it arrived. */
  readonly line: string | undefined;
  readonly trail: readonly TrailState[];
  /** What became of the tests of the pipeline; none while one of its steps is not valid yet. */
  readonly tests: readonly TestOutcome[];
}

/** Most lines sent to the screen for each reason, and most matching lines. */
const mostOfReason = 40;
const mostFitting = 400;

/**
 * Tries a pipeline out on raw lines: how the templates of one step cut them, one line's way through all steps, and the tests
 * of the pipeline.
 */
export function trySample(request: SampleRequest, resources: StepResources = noResources): SampleAnswer {
  const { source, lines, pipeline, step, followed } = request;
  const joined = joinMessages(lines.map(encode));
  const { batch, records } = readRecords(source, joined, 'auto', { received: Date.now(), backfill: false });
  const usable = pipeline.steps.filter((candidate) => checkStep(candidate, '').length === 0);
  const mask = mayEnter(pipeline.when, batch, Date.now());
  const changesRows = (kind: string): boolean => kind === 'join-lines' || kind === 'split-array';
  const earlier = pipeline.steps
    .slice(0, step)
    .filter((one) => usable.includes(one) && !changesRows(stepParts(one).kind));
  const before = runPipelines([compilePipeline({ ...pipeline, when: '', steps: earlier }, resources)], batch, {
    now: Date.now(),
  }).batch;
  const templates = templatesOf(pipeline, step);
  const results: SampleLine[] = [];
  for (let row = 0; row < batch.rows; row++) {
    if (mask[row] === 0) continue;
    const start = before.body.offsets[row] as number;
    const end = before.body.offsets[row + 1] as number;
    results.push(cut(before.body.bytes, start, end, templates, records[row] as number));
  }
  const counted = results.filter(({ place }) => place >= request.counted.from && place < request.counted.to);
  const entered = counted.length;
  const fitted = counted.filter((line) => line.fits).length;
  const row = records.indexOf(followed);
  const single = row >= 0 ? gather(source, [{ batch, rows: Int32Array.of(row) }]) : undefined;
  const trail = single
    ? Array.from({ length: usable.length + 1 }, (_, count) =>
        stateAfter({ ...pipeline, when: '', steps: usable.slice(0, count) }, single, resources),
      )
    : [];
  const tests = usable.length === pipeline.steps.length ? (pipeline.tests ?? []) : [];
  return {
    source,
    tried: lines.length,
    lines: shownLines(results, request.marked),
    reasons: countReasons(results, counted),
    entered,
    fitted,
    line: single && lines[followed],
    trail,
    tests: tests.map((test) => runTest(pipeline, test, resources)),
  };
}

/** Some lines of every reason, however rare, some matching lines, and those that are marked. */
function shownLines(lines: readonly SampleLine[], marked: readonly number[]): readonly SampleLine[] {
  const counts = new Map<string | undefined, number>();
  const some = lines.filter(({ place, fits, reason = '' }) => {
    const key = fits ? undefined : reason;
    const count = (counts.get(key) ?? 0) + 1;
    counts.set(key, count);
    const most = fits || reason === '' ? mostFitting : mostOfReason;
    return count <= most || marked.includes(place);
  });
  return some.sort((a, b) => Number(a.fits) - Number(b.fits));
}

function countReasons(all: readonly SampleLine[], counted: readonly SampleLine[]): SampleAnswer['reasons'] {
  const counts = new Map<string, number>();
  for (const { reason = '' } of all) if (reason !== '') counts.set(reason, 0);
  for (const { reason = '' } of counted) if (reason !== '') counts.set(reason, (counts.get(reason) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1]);
}

/** Lines that proposals are made from. */
const mostProposedFor = 300;

/**
 * Ways to read the lines that do not fit yet, the best first: templates, and where the step has none so far, another kind of
 * step. None for steps of other kinds than extract.
 */
export function proposeForSample({ pipeline, step }: SampleRequest, { lines }: SampleAnswer): readonly Proposal[] {
  if (stepParts(pipeline.steps[step] ?? {}).kind !== 'extract') return [];
  const misfits = lines.filter((line) => !line.fits).slice(0, mostProposedFor);
  const templates = templatesOf(pipeline, step).map(({ text }) => text);
  return propose(
    misfits.map(({ text }) => text),
    { templates },
  ).filter(({ kind }) => kind === 'template' || (kind === 'step' && templates.length === 0));
}

/** Runs that a step is timed over, with the event many times in each: once is too short for the clock. */
const timedRuns = 8;

function stateAfter(pipeline: PipelineDocument, single: EventBatch, resources: StepResources): TrailState {
  const compiled = compilePipeline(pipeline, resources);
  const measures: StepMeasures = new Map();
  const many = gather(single.source, [{ batch: single, rows: new Int32Array(fewestTimed) }]);
  for (let run = 0; run < timedRuns; run++) runPipelines([compiled], many, { now: Date.now(), measures });
  const { batch } = runPipelines([compiled], single, { now: Date.now() });
  const measure = measures.get(`${pipeline.id}/${pipeline.steps.length}`);
  let bytes = bodyBytes(batch);
  for (const columns of batch.attributes.values()) bytes += attributeBytes(columns);
  return { event: eventAt(batch, 0), bytes, microseconds: (measure && stepTime(measure)) ?? 0, events: batch.rows };
}

function templatesOf(pipeline: PipelineDocument, step: number): readonly Template[] {
  const { kind, options } = stepParts(pipeline.steps[step] ?? {});
  if (kind !== 'extract') return [];
  const texts = Array.isArray(options.templates) ? options.templates.map(String) : [String(options.template ?? '')];
  return texts.flatMap((text) => {
    const compiled = compileTemplate(text);
    return compiled.ok ? [compiled.template] : [];
  });
}

function cut(bytes: Uint8Array, start: number, end: number, templates: readonly Template[], place: number): SampleLine {
  const spans = new Int32Array(2 * Math.max(1, ...templates.map((template) => template.holes.length)));
  const text = decode(bytes, start, end);
  let furthest = start;
  let reason = '';
  for (const [index, template] of templates.entries()) {
    const piece = template.match(bytes, start, end, spans);
    const wrong = piece < 0 ? unreadable(template, bytes, spans) : undefined;
    if (piece < 0 && !wrong)
      return { place, fits: true, text, template: index, pieces: holes(bytes, start, end, template, spans) };
    const at = wrong ? end : template.failedAt();
    if (reason !== '' && at <= furthest) continue;
    furthest = Math.max(furthest, at);
    reason = wrong ?? expectation(template, piece);
  }
  const pieces: LinePiece[] = [{ text: decode(bytes, start, furthest) }];
  if (furthest < end) pieces.push({ text: decode(bytes, furthest, end), fault: templates.length > 0 });
  return { place, fits: false, text, reason, pieces };
}

/** What is wrong with a value that a hole took: it does not read as the hole's type. */
function unreadable(template: Template, bytes: Uint8Array, spans: Int32Array): string | undefined {
  const wrong = template.holes.find(({ type }, index) => {
    const start = spans[index * 2] as number;
    if (start < 0 || !type.read) return false;
    const value = type.read(bytes, start, spans[index * 2 + 1] as number, Date.now());
    return value !== value;
  });
  return wrong && `${wrong.name} is no ${wrong.type.name}`;
}

function expectation(template: Template, piece: number): string {
  const expected = template.pieces[piece];
  if (!expected) return 'the line goes on after the end of the template';
  return expected.kind === 'literal'
    ? `expected “${expected.text}”`
    : `expected ${expected.name || 'text'} (${expected.type.name})`;
}

function holes(
  bytes: Uint8Array,
  start: number,
  end: number,
  template: Template,
  spans: Int32Array,
): readonly LinePiece[] {
  const pieces: LinePiece[] = [];
  let at = start;
  template.holes.forEach((hole, index) => {
    const from = spans[index * 2] as number;
    const to = spans[index * 2 + 1] as number;
    if (from < 0) return;
    if (from > at) pieces.push({ text: decode(bytes, at, from) });
    pieces.push({ text: decode(bytes, from, to), hole: index, name: hole.name });
    at = to;
  });
  if (at < end) pieces.push({ text: decode(bytes, at, end) });
  return pieces;
}
