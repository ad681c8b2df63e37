import { BroadcastChannel, workerData } from 'node:worker_threads';
import { mixed, number, object, string } from 'yup';
import { type HashText, keyedHash } from '#core/masks/keyed-hash.ts';
import { type Database, openDatabase } from '#store/database.ts';
import { StoreStatus } from '#store/store-status.ts';
import { cutChannel } from '../watches/store-watch.ts';

let opened: Database | undefined;

/** Connections of a worker thread: while one reads for a task, another task need not wait. */
export const workerConnections = 2;

/** What worker threads get when they are started. */
export interface WorkerSetting {
  readonly databaseUrl: string;
  /** What the engine knows of the store: {@link StoreStatus.shared}. */
  readonly standing: SharedArrayBuffer;
  /** The key for hashing masked values; set before the first task. */
  readonly maskKey: SharedArrayBuffer;
  /** Bytes of opened columns that a reading thread keeps. */
  readonly memory?: number;
  /** How far the thread gives way to others, as {@link giveWay} takes it; absent: not at all. */
  readonly niceness?: number;
}

const nowhere = 'mysql://127.0.0.1:1/none';

const sharedMemory = mixed((value): value is SharedArrayBuffer => value instanceof SharedArrayBuffer);

/** Outside of a worker thread, as in tests, there is neither a store nor a key. */
const shape = object({
  databaseUrl: string().default(nowhere),
  standing: sharedMemory,
  maskKey: sharedMemory,
  memory: number().default(1e8),
  niceness: number().default(0),
});

function setting() {
  const data: unknown = Array.isArray(workerData) ? workerData[1] : workerData;
  return shape.validateSync(data ?? {});
}

/** The store, for a worker thread: opened on first use. */
export function workerDatabase(): Database {
  if (opened) return opened;
  const { databaseUrl, standing } = setting();
  const database = openDatabase(databaseUrl, workerConnections, new StoreStatus(standing));
  const cuts = new BroadcastChannel(cutChannel);
  cuts.onmessage = () => database.cut();
  cuts.unref();
  opened = database;
  return database;
}

/** Bytes of opened columns that a worker thread keeps. */
export function workerMemory(): number {
  return setting().memory;
}

/** How far a worker thread gives way to others. */
export function workerNiceness(): number {
  return setting().niceness;
}

let hash: HashText | undefined;

/** Hashes masked values with the key of the installation. */
export const workerHash: HashText = (bytes, start, end) => {
  hash ??= keyedHash(new Uint8Array(setting().maskKey ?? new SharedArrayBuffer(0)).slice());
  return hash(bytes, start, end);
};
