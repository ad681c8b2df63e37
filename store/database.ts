import { sql } from 'drizzle-orm';
import { drizzle, type MySql2Database } from 'drizzle-orm/mysql2';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import { createPool, type Pool } from 'mysql2/promise';
import { isAway, storeFault } from './fault.ts';
import * as schema from './schema.ts';

/** The store, open for questions. What fails does so with a {@link StoreFault}. */
export interface Database {
  readonly db: MySql2Database<typeof schema>;
  /** Does something over a connection of its own, which what is locked by name belongs to. */
  readonly exclusively: (work: (db: MySql2Database<typeof schema>) => Promise<void>) => Promise<void>;
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
  return {
    db,
    exclusively: async (work) => {
      const single = createPool({ uri: address, connectionLimit: 1, charset: 'utf8mb4_bin', timezone: 'Z' });
      const alone = drizzle(single, { schema, mode: 'default' });
      guard(alone);
      await work(alone).finally(() => single.end());
    },
    close: () => pool.end(),
  };
}

/** How long an engine waits for another one that is bringing the tables up to date, in seconds. */
const migrationPatience = 300;

/** Brings the tables up to date. Of several engines one does it, while the others wait. */
export async function migrateDatabase(database: Database, folder: string): Promise<void> {
  const name = sql`concat(left(database(), 40), ' migrations')`;
  await database.exclusively(async (db) => {
    const answer: unknown = await db.execute(sql`select get_lock(${name}, ${migrationPatience}) as taken`);
    if (!JSON.stringify(answer).includes('"taken":1'))
      throw new Error(
        'Another engine has been bringing the tables up to date for minutes; start again when it is done.',
      );
    try {
      await migrate(db, { migrationsFolder: folder });
    } finally {
      await db.execute(sql`select release_lock(${name})`);
    }
  });
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
