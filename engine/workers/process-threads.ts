import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import { StoreStatus } from '#store/store-status.ts';
import { usualWorkersFolder } from '../base/workers-folder.ts';
import { RankedQueue } from './ranked-queue.ts';

/** Threads that process deliveries, and the memory that all worker threads share with the engine. */
export interface ProcessThreads {
  /** How many groups of deliveries can be processed at a time. */
  readonly lanes: number;
  readonly pool: Piscina;
  readonly storeStatus: StoreStatus;
  /** The key for hashing masked values; set before the first delivery. */
  readonly maskKey: SharedArrayBuffer;
}

/** Bytes of the key for masked values. */
const maskKeySize = 32;

/** Starts a thread that loads its code beside the main thread. Further threads are started when there is something for them to do. */
export function startProcessThreads(environment: NodeJS.ProcessEnv): ProcessThreads {
  const lanes = Math.max(1, Math.min(4, availableParallelism()));
  const storeStatus = new StoreStatus();
  const maskKey = new SharedArrayBuffer(maskKeySize);
  const pool = new Piscina({
    filename: resolve(join(environment.WORKERS ?? usualWorkersFolder, 'process.js')),
    minThreads: 1,
    maxThreads: lanes,
    idleTimeout: Number.POSITIVE_INFINITY,
    taskQueue: new RankedQueue(),
    // Else a task that finds no thread goes to the end, behind those that came after it.
    stricterFIFO: true,
    workerData: { databaseUrl: environment.DATABASE_URL ?? '', standing: storeStatus.shared, maskKey },
  });
  return { lanes, pool, storeStatus, maskKey };
}
