import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import type { PlanTextAnswer, PlanTextTask } from './plan-text.ts';
import type { ProcessResult, ProcessTask, Unready } from './process.ts';
import { ahead, RankedQueue } from './ranked-queue.ts';
import type { ReadKind, ReadTask, ReadWork } from './read.ts';
import type { WorkerSetting } from './worker-database.ts';

/** The engine's worker threads. */
export interface Pools {
  /** How many deliveries can be processed at a time. */
  readonly processLanes: number;
  readonly process: (task: Omit<ProcessTask, 'shapes'>) => Promise<ProcessResult | Unready>;
  /** How many lanes read; a segment is always read by the same lane, so that it is opened once. */
  readonly readLanes: number;
  /** Has one of the reading lanes do something, counted from 0 and going round. */
  readonly read: <Kind extends ReadKind>(lane: number, task: ReadTask<Kind>) => Promise<ReadWork[Kind][1]>;
  /** Has the thread beside the lanes do something that nobody waits for: merging, cutting, trying again. */
  readonly aside: <Kind extends ReadKind>(task: ReadTask<Kind>) => Promise<ReadWork[Kind][1]>;
  /** Reads the text of a plan; undefined when that takes longer than a text may. */
  readonly planText: (task: PlanTextTask) => Promise<PlanTextAnswer | undefined>;
  readonly close: () => Promise<void>;
}

/**
 * Starts the worker threads; `folder` holds the built workers. `shapesVersion` says up to which version they have to know
 * what was decided about shapes.
 */
export function startPools(
  folder: string,
  workerData: WorkerSetting,
  lanes: number,
  shapesVersion: () => number,
): Pools {
  const pool = (file: string, threads: number, concurrentTasksPerWorker = 1): Piscina =>
    new Piscina({
      filename: resolve(join(folder, file)),
      minThreads: threads,
      maxThreads: threads,
      concurrentTasksPerWorker,
      taskQueue: new RankedQueue(),
      // Else a task that finds no thread goes to the end, behind those that came after it.
      stricterFIFO: true,
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
    process: (task) => process.run({ ...task, shapes: shapesVersion() }),
    readLanes: lanes,
    // What was found is fetched ahead of what is still looked for: of many searches some are answered soon, and lines come first.
    read: (index, task) => lane(index).run({ ...task, shapes: shapesVersion(), ...(task.kind === 'fetch' && ahead) }),
    aside: (task) => merger.run({ ...task, shapes: shapesVersion() }),
    planText: (task) => withinTime(texts, task),
    close: async () => {
      await Promise.all([process, ...readers, merger, texts].map((workers) => workers.destroy()));
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
