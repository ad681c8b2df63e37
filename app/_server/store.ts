import { type Database, openDatabase } from '#store/database.ts';

let opened: Database | undefined;

/** The store, opened on first use and kept for the life of the process. */
export function store(): Database {
  opened ??= openDatabase(process.env.DATABASE_URL ?? '', 8);
  return opened;
}
