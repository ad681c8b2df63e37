import { sql } from 'drizzle-orm';
import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import { createPool, type Pool } from 'mysql2/promise';
import { isAway, storeFault } from './fault.ts';
import * as schema from './schema.ts';

/** The store, open for questions. What fails does so with a {@link StoreFault}. */
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
  const db = drizzle(pool, { schema, mode: 'default' });
  guard(db);
  return { db, close: () => pool.end() };
}

/** Brings the tables up to date. */
export async function migrateDatabase(database: Database, folder: string): Promise<void> {
  await migrate(database.db, { migrationsFolder: folder });
}

/** Resolves once the store answers; throws its fault where it has not within `patience` milliseconds. */
export async function storeAnswers(database: Database, patience: number): Promise<void> {
  for (const end = Date.now() + patience; ; ) {
    try {
      await database.db.execute(sql`select 1`);
      return;
    } catch (error) {
      if (!isAway(error) || Date.now() > end) throw error;
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
  }
}

/** What of Drizzle's sessions is needed to see every statement go by; they are no part of its declared interface. */
interface Session {
  prepareQuery: (...parts: readonly unknown[]) => { execute: (...values: readonly unknown[]) => Promise<unknown> };
  transaction: (work: (tx: object) => Promise<unknown>, config?: object) => Promise<unknown>;
}

function isSession(value: unknown): value is Session {
  return typeof value === 'object' && value !== null && 'prepareQuery' in value && 'transaction' in value;
}

/** Has every error of a database's or a transaction's statements come out as a fault of the store. */
function guard(queryable: object): void {
  const session: unknown = Reflect.get(queryable, 'session');
  if (!isSession(session)) throw new Error('The database library has changed: its sessions are not where they were.');
  const prepare = session.prepareQuery.bind(session);
  session.prepareQuery = (...parts) => {
    const prepared = prepare(...parts);
    const execute = prepared.execute.bind(prepared);
    prepared.execute = (...values) => faulting(execute(...values));
    return prepared;
  };
  const transact = session.transaction.bind(session);
  session.transaction = (work, config) =>
    faulting(
      transact(async (tx) => {
        guard(tx);
        return await work(tx);
      }, config),
    );
}

async function faulting<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    throw storeFault(error);
  }
}
