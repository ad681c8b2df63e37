import { workerData } from 'node:worker_threads';
import { object, string } from 'yup';
import { type Database, openDatabase } from '#store/database.ts';

let opened: Database | undefined;

/** Connections of a worker thread: while one reads for a task, another task need not wait. */
export const workerConnections = 2;

/** The store, for a worker thread: opened on first use. */
export function workerDatabase(): Database {
  const data = Array.isArray(workerData) ? workerData[1] : workerData;
  opened ??= openDatabase(
    object({ DATABASE_URL: string().required() }).validateSync(data).DATABASE_URL,
    workerConnections,
  );
  return opened;
}
