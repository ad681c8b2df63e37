import { eventAt } from '../events/batch.ts';
import { type CompiledPipeline, runPipelines } from '../pipelines/run-pipelines.ts';
import type { PlanDocument } from '../plan/document.ts';
import { mayTake } from '../plan/may-enter.ts';
import { compilePipeline } from '../plan/parts/pipelines/compile-pipeline.ts';
import type { PipelineDocument } from '../plan/parts/pipelines/pipelines-shape.ts';
import { keepOf } from '../plan/retention.ts';
import { passingTier, rejectsTier } from '../routing/built-in-tiers.ts';
import { type TapedRecord, tapedBatch } from '../tape/taped.ts';
import type { FoundEvent } from './found-event.ts';

/** A pipeline that an event passed. */
export interface PassedPipeline {
  readonly id: string;
  readonly title: string;
  readonly steps: number;
}

/** Where an event came from and where it went, by the plan that was live when it arrived. */
export interface EventOrigin {
  /** The pipelines that it passed, in order; without `raw`, those that events of its source may enter. */
  readonly pipelines: readonly PassedPipeline[];
  /** The tier that keeps it: what it takes (empty: all that comes that far), and for how long in milliseconds, where known. */
  readonly tier: {
    readonly id: string;
    readonly title: string;
    readonly when: string;
    readonly keepsFor: number | undefined;
  };
  /** The record as it arrived, where it is on the tape. */
  readonly raw?: string;
}

/** `taped` are the records on the tape that arrived at the same moment as the event. */
export function originOf(event: FoundEvent, plan: PlanDocument, taped: readonly TapedRecord[]): EventOrigin {
  const tier = tierOf(event.tier, plan);
  const pipelines = plan.pipelines.map((document) => ({ document, ...compilePipeline(document) }));
  const best = taped
    .flatMap((record) => triedOn(event, pipelines, record) ?? [])
    .reduce<Tried | undefined>((most, one) => (most && most.alike >= one.alike ? most : one), undefined);
  if (best) return { tier, raw: best.raw, pipelines: best.passed.map(inShort) };
  return { tier, pipelines: plan.pipelines.filter(({ when }) => mayTake(when, event.source)).map(inShort) };
}

function inShort({ id, title, steps }: PipelineDocument): PassedPipeline {
  return { id, title, steps: steps.length };
}

function tierOf(id: string, plan: PlanDocument): EventOrigin['tier'] {
  const known = [...plan.tiers, passingTier, rejectsTier].find((one) => one.id === id);
  const when = known && 'when' in known ? known.when : undefined;
  return { id, title: known?.title ?? id, when: when ?? '', keepsFor: keepOf(plan, id) };
}

/** A pipeline ready to run, with what the plan says of it. */
interface DocumentedPipeline extends CompiledPipeline {
  readonly document: PipelineDocument;
}

interface Tried {
  readonly raw: string;
  readonly passed: readonly PipelineDocument[];
  /** How many of the event's fields came out the same. */
  readonly alike: number;
}

/** Takes a record through the pipelines; undefined where what comes out is another event. */
function triedOn(event: FoundEvent, pipelines: readonly DocumentedPipeline[], record: TapedRecord): Tried | undefined {
  let batch = tapedBatch(event.source, [record]);
  const context = { now: event.received };
  const passed: PipelineDocument[] = [];
  for (const pipeline of pipelines) {
    if (!pipeline.when.test(batch, context).includes(1)) continue;
    passed.push(pipeline.document);
    batch = runPipelines([pipeline], batch, context).batch;
  }
  let alike = -1;
  for (let row = 0; row < batch.rows; row++) {
    const made = eventAt(batch, row);
    if (Math.floor(made.time) !== Math.floor(event.time) || made.emitter !== event.emitter) continue;
    const same = Object.entries(event.attributes).filter(([name, value]) => made.attributes[name] === value).length;
    alike = Math.max(alike, same + (made.body === event.body ? 1 : 0));
  }
  // Two events of one millisecond and emitter have at least something that tells them apart.
  const least = Object.keys(event.attributes).length / 2;
  return alike < least ? undefined : { raw: record[3], passed, alike };
}
