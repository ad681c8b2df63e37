import { type Database, openDatabase } from '#store/database.ts';

let opened: Database | undefined;

/** The store, opened on first use and kept for the life of the process. */
export function store(): Database {
  opened ??= openDatabase(
    process.env.DATABASE_URL ?? `mysql://root@127.0.0.1:${process.env.DB_PORT ?? 3307}/restless_otter`,
    8,
  );
  return opened;
}
