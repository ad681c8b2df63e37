import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import { createPool, type Pool } from 'mysql2/promise';
import * as schema from './schema.ts';

/** The store, open for questions. */
export interface Database {
  readonly db: MySql2Database<typeof schema>;
  readonly close: () => Promise<void>;
}

/** What queries run on: the store itself, or a transaction of it. */
export type Queryable = Pick<MySql2Database<typeof schema>, 'select' | 'insert' | 'update' | 'delete' | 'execute'>;

/** Opens the store at a `mysql://` address with at most `connections` connections. Does not connect yet. */
export function openDatabase(address: string, connections: number): Database {
  const pool: Pool = createPool({
    uri: address,
    connectionLimit: connections,
    connectTimeout: 5_000,
    supportBigNumbers: true,
    charset: 'utf8mb4_bin',
    timezone: 'Z',
  });
  return { db: drizzle(pool, { schema, mode: 'default' }), close: () => pool.end() };
}

/** Brings the tables up to date. */
export async function migrateDatabase(database: Database, folder: string): Promise<void> {
  await migrate(database.db, { migrationsFolder: folder });
}

/** Whether an error says that the store cannot be reached, rather than that a question was wrong. */
export function isAway(error: unknown): boolean {
  for (let fault: unknown = error, depth = 0; fault instanceof Error && depth < 5; fault = fault.cause, depth++) {
    const code = 'code' in fault ? String(fault.code) : '';
    if (/^(ECONN|ETIMEDOUT|EPIPE|PROTOCOL_|ER_SERVER_SHUTDOWN|ER_CON_COUNT|ENOENT|EHOSTUNREACH)/.test(code))
      return true;
    if (/Connection is closed|connection is in closed state/i.test(fault.message)) return true;
  }
  return false;
}

/** Whether an error says that a row with the same key exists. */
export function isDuplicate(error: unknown): boolean {
  for (let fault: unknown = error, depth = 0; fault instanceof Error && depth < 5; fault = fault.cause, depth++) {
    if ('code' in fault && fault.code === 'ER_DUP_ENTRY') return true;
  }
  return false;
}
