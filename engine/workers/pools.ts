import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import type { CataloguePartial } from '#core/fields/catalogue.ts';
import type { Rehearsal } from '#core/rehearsal/rehearse.ts';
import type { SearchPartial } from '#core/search/search.ts';
import type { CatalogueTask } from './catalogue.ts';
import type { CutResult, CutTask } from './cut.ts';
import type { ProcessResult, ProcessTask } from './process.ts';
import type { CompactTask, RehearseTask, SearchTask } from './read.ts';
import type { RetryResult, RetryTask } from './retry.ts';

/** The engine's worker threads. */
export interface Pools {
  /** How many deliveries can be processed at a time. */
  readonly processLanes: number;
  readonly process: (task: ProcessTask) => Promise<ProcessResult>;
  /** How many lanes read; a segment is always read by the same lane, so that it is opened once. */
  readonly readLanes: number;
  readonly search: (lane: number, task: SearchTask) => Promise<SearchPartial>;
  readonly rehearse: (lane: number, task: RehearseTask) => Promise<Rehearsal>;
  readonly compact: (task: CompactTask) => Promise<boolean>;
  readonly catalogue: (lane: number, task: CatalogueTask) => Promise<CataloguePartial>;
  readonly retry: (task: RetryTask) => Promise<RetryResult>;
  readonly cut: (task: CutTask) => Promise<CutResult>;
  readonly close: () => Promise<void>;
}

/** Starts the worker threads; `folder` holds the built workers. */
export function startPools(folder: string, databaseUrl: string, lanes: number): Pools {
  const workerData = { DATABASE_URL: databaseUrl };
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
  for (const reader of readers) void reader.run({ kind: 'warm' });
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
    cut: (task) => merger.run(task),
    close: async () => {
      await Promise.all([process, ...readers, merger].map((each) => each.destroy()));
    },
  };
}
