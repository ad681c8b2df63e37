import { workerData } from 'node:worker_threads';
import { number, object, string } from 'yup';
import { type HashText, keyedHash } from '#core/masks/keyed-hash.ts';
import { type Database, openDatabase } from '#store/database.ts';

let opened: Database | undefined;

/** Connections of a worker thread: while one reads for a task, another task need not wait. */
export const workerConnections = 2;

/** What worker threads are told when they are started. */
export interface WorkerSetting {
  readonly databaseUrl: string;
  /** The key with which masked values are hashed, hexadecimal. */
  readonly maskKey: string;
  /** Bytes of opened columns that a thread keeps. */
  readonly memory: number;
}

/** Outside of a worker thread, as in tests, there is neither a store nor a key. */
const shape = object({
  databaseUrl: string().default(''),
  maskKey: string().default(''),
  memory: number().default(1e8),
});

function setting(): WorkerSetting {
  const data: unknown = Array.isArray(workerData) ? workerData[1] : workerData;
  return shape.validateSync(data ?? {});
}

/** The store, for a worker thread: opened on first use. */
export function workerDatabase(): Database {
  opened ??= openDatabase(setting().databaseUrl, workerConnections);
  return opened;
}

/** Bytes of opened columns that a worker thread keeps. */
export function workerMemory(): number {
  return setting().memory;
}

/** What a worker thread hashes masked values with. */
export function workerHash(): HashText {
  return keyedHash(Buffer.from(setting().maskKey, 'hex'));
}
