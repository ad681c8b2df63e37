import { workerData } from 'node:worker_threads';
import { object, string } from 'yup';
import { type Database, openDatabase } from '#store/database.ts';

let opened: Database | undefined;

/** The store, for a worker thread: opened on first use with two connections. */
export function workerDatabase(): Database {
  const data = Array.isArray(workerData) ? workerData[1] : workerData;
  opened ??= openDatabase(object({ DATABASE_URL: string().required() }).validateSync(data).DATABASE_URL, 2);
  return opened;
}
