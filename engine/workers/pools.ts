import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import type { CataloguePartial } from '#core/fields/catalogue.ts';
import type { Rehearsal } from '#core/rehearsal/rehearse.ts';
import type { SearchPartial } from '#core/search/search.ts';
import type { CatalogueTask } from './catalogue.ts';
import type { CutResult, CutTask } from './cut.ts';
import type { PlanTextAnswer, PlanTextTask } from './plan-text.ts';
import type { ProcessResult, ProcessTask, Unready } from './process.ts';
import type { CompactTask, RehearseTask, SearchTask } from './read.ts';
import type { RetryResult, RetryTask } from './retry.ts';
import type { WorkerSetting } from './worker-database.ts';

/** The engine's worker threads. */
export interface Pools {
  /** How many deliveries can be processed at a time. */
  readonly processLanes: number;
  readonly process: (task: ProcessTask) => Promise<ProcessResult | Unready>;
  /** How many lanes read; a segment is always read by the same lane, so that it is opened once. */
  readonly readLanes: number;
  readonly search: (lane: number, task: SearchTask) => Promise<SearchPartial>;
  readonly rehearse: (lane: number, task: RehearseTask) => Promise<Rehearsal>;
  readonly compact: (task: CompactTask) => Promise<boolean>;
  readonly catalogue: (lane: number, task: CatalogueTask) => Promise<CataloguePartial>;
  readonly retry: (task: RetryTask) => Promise<RetryResult>;
  /** Reads the text of a plan; undefined when that takes longer than a text may. */
  readonly planText: (task: PlanTextTask) => Promise<PlanTextAnswer | undefined>;
  readonly cut: (task: CutTask) => Promise<CutResult>;
  readonly close: () => Promise<void>;
}

/** Starts the worker threads; `folder` holds the built workers. */
export function startPools(folder: string, workerData: WorkerSetting, lanes: number): Pools {
  const pool = (file: string, threads: number, concurrentTasksPerWorker = 1): Piscina =>
    new Piscina({
      filename: resolve(join(folder, file)),
      minThreads: threads,
      maxThreads: threads,
      concurrentTasksPerWorker,
      workerData,
    });
  const process = pool('process.js', lanes);
  const readers = Array.from({ length: lanes }, () => pool('read.js', 1, 2));
  const merger = pool('read.js', 1);
  const texts = new Piscina<PlanTextTask, PlanTextAnswer>({
    filename: resolve(join(folder, 'plan-text.js')),
    minThreads: 0,
    maxThreads: 1,
    maxQueue: 20,
  });
  // One that is ended before it is warm has nothing to say.
  for (const reader of readers) reader.run({ kind: 'warm' }).catch(() => {});
  const lane = (index: number): Piscina => readers[index % readers.length] as Piscina;
  return {
    processLanes: lanes,
    process: (task) => process.run(task),
    readLanes: lanes,
    search: (index, task) => lane(index).run(task),
    rehearse: (index, task) => lane(index).run(task),
    compact: (task) => merger.run(task),
    catalogue: (index, task) => lane(index).run(task),
    retry: (task) => merger.run(task),
    planText: (task) => withinTime(texts, task),
    cut: (task) => merger.run(task),
    close: async () => {
      await Promise.all([process, ...readers, merger, texts].map((each) => each.destroy()));
    },
  };
}

/** How long the reading of a text may take, in milliseconds; then its thread is ended. */
const textTime = 10_000;

async function withinTime(
  pool: Piscina<PlanTextTask, PlanTextAnswer>,
  task: PlanTextTask,
): Promise<PlanTextAnswer | undefined> {
  const signal = AbortSignal.timeout(textTime);
  try {
    return await pool.run(task, { signal });
  } catch (error) {
    if (signal.aborted) return undefined;
    throw error;
  }
}
