import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import type { PlanTextAnswer, PlanTextTask } from './plan-text.ts';
import type { ProcessResult, ProcessTask, Unready } from './process.ts';
import type { ProcessThreads } from './process-threads.ts';
import { ahead, behind, RankedQueue } from './ranked-queue.ts';
import type { ReadKind, ReadTask, ReadWork } from './read.ts';
import type { WriteOutTask, WrittenPiece } from './tasks/write-out.ts';
import { withoutFault } from './thread-fault.ts';
import { UnderWay } from './under-way.ts';
import type { WorkerSetting } from './worker-database.ts';

/** The engine's worker threads. */
export interface Pools {
  /** How many groups of deliveries can be processed at a time, beside one delivery that takes long. */
  readonly processLanes: number;
  /** Has a group of deliveries processed; one that takes long by a thread of its own, which lets everything else go first. */
  readonly process: (isHeavy: boolean, task: Omit<ProcessTask, 'shapes'>) => Promise<ProcessResult | Unready>;
  /** How many lanes read; a segment is always read by the same lane, so that it is opened once. */
  readonly readLanes: number;
  /** Has the reading lanes get ready for the first search; resolves when they are. */
  readonly warm: () => Promise<void>;
  /**
   * Gives the memory back that the reading lanes took, once nothing was read for `idle` milliseconds: their threads end, and others
   * take their place.
   */
  readonly giveBack: (idle: number) => Promise<void>;
  /** Has one of the reading lanes do something, counted from 0 and going round. */
  readonly read: <Kind extends ReadKind>(lane: number, task: ReadTask<Kind>) => Promise<ReadWork[Kind][1]>;
  /** Has the thread beside the lanes do something that nobody waits for: merging, cutting, trying again. */
  readonly background: <Kind extends ReadKind>(task: ReadTask<Kind>) => Promise<ReadWork[Kind][1]>;
  /** Has a thread beside the lanes write found events out: what searches wait for is not behind it. */
  readonly writeOut: (task: WriteOutTask) => Promise<WrittenPiece>;
  /** Resolves when no lane reads anything, or after `patience` milliseconds. */
  readonly quiet: (patience: number) => Promise<void>;
  /** Reads the text of a plan; undefined when that takes longer than a text may. */
  readonly planText: (task: PlanTextTask) => Promise<PlanTextAnswer | undefined>;
  readonly close: () => Promise<void>;
}

/**
 * Starts the other worker threads; `folder` holds the built workers. `shapesVersion` says up to which version they have to know
 * what was decided about shapes.
 */
export function startPools(
  { pool: process, lanes }: ProcessThreads,
  folder: string,
  workerData: WorkerSetting,
  shapesVersion: () => number,
): Pools {
  const pool = (file: string, concurrentTasksPerWorker = 1): Piscina =>
    new Piscina({
      ...{ filename: resolve(join(folder, file)), maxThreads: 1, idleTimeout: Number.POSITIVE_INFINITY },
      ...{ concurrentTasksPerWorker, taskQueue: new RankedQueue(), stricterFIFO: true, workerData },
    });
  const heavy = new Piscina({
    ...{ filename: resolve(join(folder, 'process.js')), minThreads: 0, maxThreads: 1, idleTimeout: heavyIdle },
    workerData: { ...workerData, niceness: heavyNiceness },
  });
  // Those that read are started when something is to be read: what is sent to an engine that has just started comes first.
  const makeReaders = (): Piscina[] => Array.from({ length: lanes }, () => pool('read.js', 2));
  let readers = lazily(makeReaders);
  const merger = lazily(() => pool('read.js'));
  const writer = new Piscina({
    ...{ filename: resolve(join(folder, 'read.js')), minThreads: 0, maxThreads: 1, idleTimeout: writerIdle },
    workerData: { ...workerData, memory: writerMemory },
  });
  const texts = new Piscina<PlanTextTask, PlanTextAnswer>({
    filename: resolve(join(folder, 'plan-text.js')),
    minThreads: 0,
    maxThreads: 1,
    maxQueue: 20,
  });
  const reading = new UnderWay();
  const lane = (index: number): Piscina => readers()[index % lanes] as Piscina;
  // One after the other, so that something is left for what is being asked; one that is ended before has nothing to say.
  const warm = async (): Promise<void> => {
    for (const reader of readers()) await reader.run({ kind: 'warm' }).catch(() => {});
  };
  return {
    processLanes: lanes,
    process: (isHeavy, task) => (isHeavy ? heavy : process).run({ ...task, shapes: shapesVersion() }),
    readLanes: lanes,
    warm,
    // What was found is fetched ahead of what is still looked for: of many searches some are answered soon, and lines come first.
    read: (index, task) =>
      reading.while(withoutFault(lane(index).run({ ...task, shapes: shapesVersion(), ...rankOf(task.kind) }))),
    background: (task) => withoutFault(merger().run({ ...task, shapes: shapesVersion() })),
    giveBack: async (idle) => {
      if (reading.idleFor < idle || !reading.hasBegun) return;
      const old = readers();
      readers = lazily(makeReaders);
      reading.forget();
      await Promise.all(old.map((reader) => reader.destroy()));
      await warm();
    },
    writeOut: (task) => withoutFault(writer.run({ ...task, shapes: shapesVersion() })),
    quiet: (patience) => reading.quiet(patience),
    planText: (task) => withinTime(texts, task),
    close: async () => {
      await Promise.all([process, heavy, ...readers(), merger(), writer, texts].map((workers) => workers.destroy()));
    },
  };
}

/** How long the thread for what takes long stays when there is none (ms), and how far it gives way: it gets a third of what others get. */
const heavyIdle = 60_000;
const heavyNiceness = 5;

/** How long the thread that writes out stays when nothing is to be written, and what it keeps open: what it is at (ms, bytes). */
const writerIdle = 30_000;
const writerMemory = 60_000_000;

/** What goes over much of the tape, in small parts: whoever searches is not to wait for all of them. */
const long: ReadonlySet<ReadKind> = new Set<ReadKind>([
  ...(['rehearse', 'catalogue', 'matches', 'shapeLines', 'shapeUses', 'metricTrial', 'shadows'] as const),
]);

/** What somebody waits for before anything else: lines that were found, and the first answer of an explanation. */
const first: ReadonlySet<ReadKind> = new Set<ReadKind>(['fetch', 'ledgerSeries', 'whyLedger']);

function rankOf(kind: ReadKind): object {
  if (first.has(kind)) return ahead;
  return long.has(kind) ? behind : {};
}

/** What is made when it is asked for the first time. */
function lazily<Value>(make: () => Value): () => Value {
  let made: Value | undefined;
  return () => (made ??= make());
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
