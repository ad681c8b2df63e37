import { conditionOf } from '#core/conditions/condition.ts';
import type { EventBatch } from '#core/events/batch.ts';
import type { CataloguePartial } from '#core/fields/catalogue.ts';
import type { WindowTable } from '#core/metrics/metric-window.ts';
import type { CompiledPlan } from '#core/plan/compile.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { isSame } from '#core/plan/merge.ts';
import type { Matches } from '#core/rehearsal/matches.ts';
import { newRehearsal, type Rehearsal, rehearseBatch } from '#core/rehearsal/rehearse.ts';
import type { Shadows } from '#core/rehearsal/shadows.ts';
import type { ShapeLines } from '#core/rehearsal/shape-lines.ts';
import { type SurgeChoice, surgeOf } from '#core/rehearsal/surge.ts';
import type { SlottedWindow } from '#core/rehearsal/transitions.ts';
import { splitRejects } from '#core/routing/split-rejects.ts';
import type { FetchedPartial } from '#core/search/search.ts';
import { allColumns } from '#core/segments/segment.ts';
import type { ShapeUses } from '#core/suggestions/shape-uses.ts';
import type { TalkerTable } from '#core/talkers/talker-table.ts';
import type { Explanation } from '#core/why/causes.ts';
import type { CountedSums } from '#core/why/counted-causes.ts';
import { readParts } from '#store/events/segments.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import type { Delivery } from '../deliveries/delivery.ts';
import { handedOver } from './handed-over.ts';
import { compiledPlan } from './plans.ts';
import { readDelivery } from './read-delivery.ts';
import { SegmentCache, type SegmentRef } from './segment-cache.ts';
import { currentShape, refreshShapes, withShapes } from './shapes.ts';
import { tapedBatches } from './tape.ts';
import { type CatalogueTask, catalogue } from './tasks/catalogue.ts';
import { type CompactResult, type CompactTask, compact } from './tasks/compact.ts';
import { type CutResult, type CutTask, cut } from './tasks/cut.ts';
import { type FetchTask, fetch } from './tasks/fetch.ts';
import { type FillMetricResult, type FillMetricTask, fillMetric } from './tasks/fill-metric.ts';
import { type FindResult, type FindTask, find } from './tasks/find.ts';
import { type MatchesTask, matches } from './tasks/matches.ts';
import {
  type ExpositionTask,
  type MetricPointsTask,
  metricExposition,
  metricMessages,
  metricPoints,
  type OtlpMetricsTask,
} from './tasks/metric-points.ts';
import { type MetricTrialPart, type MetricTrialTask, metricTrial } from './tasks/metric-trial.ts';
import { type RetryResult, type RetryTask, retry } from './tasks/retry.ts';
import type { SampledPart } from './tasks/sampled-part.ts';
import { type ShadowsTask, shadows } from './tasks/shadows.ts';
import { type ShapeLinesTask, shapeLines } from './tasks/shape-lines.ts';
import { type ShapeUsesTask, shapeUses } from './tasks/shape-uses.ts';
import { type TalkerRoundTask, type TalkersTask, talkerRound, talkers } from './tasks/talkers.ts';
import { warmUp } from './tasks/warm-up.ts';
import { type WhyCausesTask, whyCauses } from './tasks/why-causes.ts';
import { type WhyCountsTask, whyCounts } from './tasks/why-counts.ts';
import {
  type LedgerSeries,
  type LedgerSeriesTask,
  ledgerSeries,
  type WhyLedgerTask,
  whyLedger,
} from './tasks/why-ledger.ts';
import { type Sampled, type WhySampleTask, whySample } from './tasks/why-sample.ts';
import { type WhyTapeTask, whyTape } from './tasks/why-tape.ts';
import { type WriteOutTask, type WrittenPiece, writeOut } from './tasks/write-out.ts';
import { type ThreadFault, withFault } from './thread-fault.ts';
import { workerConnections, workerDatabase, workerMemory } from './worker-database.ts';

/** The events of a rehearsal: of the tape, rejects of one reason (empty: all), or deliveries from a time on. */
export type RehearsalOf =
  | {
      readonly kind: 'tape';
      readonly chunks: readonly number[];
      readonly standsFor: number;
      /** The window that the chunks are a sample of. */
      readonly window?: SlottedWindow;
    }
  | { readonly kind: 'rejects'; readonly segments: readonly SegmentRef[]; readonly reason: string }
  | { readonly kind: 'deliveries'; readonly deliveries: readonly Delivery[]; readonly since: number };

export interface RehearseTask {
  readonly kind: 'rehearse';
  readonly live: PlanDocument;
  readonly draft: PlanDocument;
  readonly of: RehearsalOf;
  /** The conditions of those who read events that are kept; absent: of nobody. */
  readonly readers?: readonly string[];
  readonly surge?: SurgeChoice | undefined;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  /** When each table was last changed. */
  readonly tables: Readonly<Record<string, number>>;
  readonly now: number;
}

/** Gets a thread ready: its connection to the store is opened and its code compiled. */
export interface WarmTask {
  readonly kind: 'warm';
}

const database = workerDatabase();
const cache = new SegmentCache(database, workerMemory());

async function rehearse(task: RehearseTask): Promise<Rehearsal> {
  const rehearsal = newRehearsal();
  const live = await compiledPlan(task.live, task.tables);
  const draft = await compiledPlan(task.draft, task.tables);
  const { now, fleets } = task;
  const comparesFields = !isSame(task.live.pipelines, task.draft.pipelines);
  const readers = (task.readers ?? []).map(conditionOf);
  const plans = { fleets, comparesFields, readers, surge: task.surge && surgeOf(task.surge) };
  const since = task.of.kind === 'deliveries' && task.of.since > 0 ? task.of.since : undefined;
  const window = task.of.kind === 'tape' ? task.of.window : undefined;
  for await (const batch of batchesOf(task.of, [live, draft]))
    rehearseBatch(rehearsal, { ...plans, live, draft, now, window, since, currentShape }, withShapes(batch));
  return rehearsal;
}

async function* batchesOf(of: RehearsalOf, plans: readonly CompiledPlan[]): AsyncIterable<EventBatch> {
  if (of.kind === 'tape') {
    yield* tapedBatches(await retryRead(() => readTape(database, of.chunks)), plans, of.standsFor);
  } else if (of.kind === 'rejects') {
    for (const batch of await retryRead(() => cache.batches(of.segments, () => allColumns))) {
      if (batch) yield splitRejects(batch, of.reason).meant;
    }
  } else {
    for (const delivery of of.deliveries) {
      const read = readDelivery(delivery);
      if ('result' in read) yield read.result.batch;
    }
  }
}

async function warm(): Promise<boolean> {
  warmUp();
  // As many questions at once as there are connections: each opens one.
  return await Promise.all(Array.from({ length: workerConnections }, () => readParts(database, [0], [0]))).then(
    () => true,
    () => false,
  );
}

/** What the reading threads do, by the kind of the task: what is asked, and what comes back. */
export interface ReadWork {
  readonly find: readonly [FindTask, FindResult];
  readonly fetch: readonly [FetchTask, FetchedPartial];
  readonly compact: readonly [CompactTask, CompactResult];
  readonly rehearse: readonly [RehearseTask, Rehearsal];
  readonly catalogue: readonly [CatalogueTask, CataloguePartial];
  readonly matches: readonly [MatchesTask, Matches];
  readonly retry: readonly [RetryTask, RetryResult];
  readonly cut: readonly [CutTask, CutResult];
  readonly warm: readonly [WarmTask, boolean];
  readonly writeOut: readonly [WriteOutTask, WrittenPiece];
  readonly shapeLines: readonly [ShapeLinesTask, ShapeLines];
  readonly shapeUses: readonly [ShapeUsesTask, ShapeUses];
  readonly metricPoints: readonly [MetricPointsTask, WindowTable];
  readonly exposition: readonly [ExpositionTask, string];
  readonly otlpMetrics: readonly [OtlpMetricsTask, readonly string[]];
  readonly fillMetric: readonly [FillMetricTask, FillMetricResult];
  readonly talkers: readonly [TalkersTask, TalkerTable];
  readonly talkerRound: readonly [TalkerRoundTask, boolean];
  readonly metricTrial: readonly [MetricTrialTask, MetricTrialPart];
  readonly shadows: readonly [ShadowsTask, readonly Shadows[]];
  readonly whySample: readonly [WhySampleTask, readonly Sampled[]];
  readonly whyCauses: readonly [WhyCausesTask, Explanation];
  readonly whyCounts: readonly [WhyCountsTask, CountedSums | undefined];
  readonly whyLedger: readonly [WhyLedgerTask, Explanation];
  readonly whyTape: readonly [WhyTapeTask, readonly SampledPart[]];
  readonly ledgerSeries: readonly [LedgerSeriesTask, LedgerSeries];
}

export type ReadKind = keyof ReadWork;

/** A task of one kind. */
export type ReadTask<Kind extends ReadKind> = ReadWork[Kind][0] & { readonly kind: Kind };

/** Up to which version what was decided about shapes has to be known. */
interface Current {
  readonly shapes: number;
}

const work: { readonly [Kind in ReadKind]: (task: ReadWork[Kind][0]) => Promise<ReadWork[Kind][1]> } = {
  find: (task) => find(cache, task),
  fetch: (task) => fetch(cache, task),
  compact: (task) => compact(database, task),
  rehearse,
  catalogue,
  matches,
  retry,
  cut,
  warm,
  shapeLines,
  shapeUses,
  shadows,
  whySample: (task) => whySample(cache, task),
  whyCauses,
  whyCounts: (task) => whyCounts(cache, task),
  whyLedger,
  whyTape,
  ledgerSeries,
  metricPoints,
  exposition: metricExposition,
  otlpMetrics: metricMessages,
  fillMetric: (task) => fillMetric(cache, task),
  talkers,
  talkerRound,
  metricTrial: async (task) => {
    const part = await metricTrial(task);
    return handedOver(part, [part.deltas]);
  },
  writeOut: async (task) => {
    const written = await writeOut(cache, task);
    return handedOver(written, [written.piece.data]);
  },
};

/** Reads from the store: searches, rehearsals, and the merging of small segments. */
export default function read<Kind extends ReadKind>(
  task: ReadTask<Kind> & Current,
): Promise<ReadWork[Kind][1] | ThreadFault> {
  return withFault(async () => {
    if (task.kind !== 'warm') await refreshShapes(task.shapes);
    return await work[task.kind](task);
  });
}
