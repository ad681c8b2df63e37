import { connect, Socket } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import type { MySqlTransactionConfig } from 'drizzle-orm/mysql-core';
import type { MySql2Database } from 'drizzle-orm/mysql2';
import type { PoolConnection } from 'mysql2';
import { createPool, type Pool, type PoolOptions } from 'mysql2/promise';
import { readStoreAddress } from './address.ts';
import { isAway, storeFault } from './fault.ts';
import { faulting, StoreTransaction, storeOver, type Transact } from './session.ts';
import { StoreStatus } from './store-status.ts';
import { type LateAnswer, type Statement, Turns } from './turns.ts';

/** The store, open for questions. What fails does so with a {@link StoreFault}. */
export interface Database {
  readonly db: MySql2Database;
  /** How many servers it has; which of them is asked is up to {@link Database.standing}. */
  readonly nodes: number;
  readonly standing: StoreStatus;
  /**
   * A transaction that is given up unless it has committed within `patience` milliseconds. Whether it has is unknown only
   * where its commit was under way.
   */
  readonly within: <Value>(patience: number, work: (tx: Queryable) => Promise<Value>) => Promise<Value>;
  /** Cuts all connections: what is under way fails as `away`, and what had not committed never will. */
  readonly cut: () => void;
  /** Does something that may take as long as it takes over a connection of its own, such as bringing the tables up to date. */
  readonly exclusively: (work: (db: MySql2Database) => Promise<void>) => Promise<void>;
  readonly close: () => Promise<void>;
}

/** What queries run on: the store itself, or a transaction of it. */
export type Queryable = Pick<MySql2Database, 'select' | 'insert' | 'update' | 'delete' | 'execute'>;

/** How long connecting may take, in milliseconds. */
const connectPatience = 3_000;
/** How long a transaction may take where nothing is said, in milliseconds. */
const transactionPatience = 300_000;
/** What each connection begins with: nothing waits for ever for what another one has locked, and no statement runs for ever. */
const firstStatement = 'set session innodb_lock_wait_timeout = 30, lock_wait_timeout = 120, max_statement_time = 900';

/**
 * Opens the store at a `mysql://` address, which may name several servers with commas, with at most `connections` connections.
 * Does not connect yet.
 */
export function openDatabase(address: string, connections: number, standing = new StoreStatus()): Database {
  const { nodes, ofFirst } = readStoreAddress(address);
  const options: PoolOptions = {
    uri: ofFirst,
    connectTimeout: connectPatience,
    supportBigNumbers: true,
    charset: 'utf8mb4_bin',
    timezone: 'Z',
    // Who asked is known from the question; a stack for each of them, in case it fails, takes more than the rest.
    trace: false,
    // Several that need no answers in between go in one turn.
    multipleStatements: true,
    stream: () => {
      const { host, port } = nodes[standing.node % nodes.length] ?? {};
      return connect({ host, port: port ?? 0, noDelay: true, keepAlive: true });
    },
  };
  const pool = createPool({ ...options, connectionLimit: connections });
  const open = new Set<object>();
  pool.pool.on('connection', (connection: PoolConnection) => {
    open.add(connection);
    connection.once('end', () => open.delete(connection));
    connection.once('error', () => open.delete(connection));
    connection.query(firstStatement, () => {});
  });
  return {
    db: storeOver(pool, standing, transactOver(pool, standing, transactionPatience)),
    nodes: nodes.length,
    standing,
    within: (patience, work) => transactOver(pool, standing, patience)(work),
    cut: () => {
      for (const connection of open) cutOff(connection);
    },
    exclusively: async (work) => {
      const single = createPool({ ...options, connectionLimit: 1 });
      await work(storeOver(single, standing)).finally(() => single.end());
    },
    close: () => pool.end(),
  };
}

/** Ends a connection at once; a server that is asleep would not answer a goodbye. */
function cutOff(connection: object): void {
  const stream: unknown = Reflect.get(connection, 'stream');
  if (stream instanceof Socket) stream.destroy();
}

/**
 * Resolves once the store answers, at the first of its servers that does; throws its fault where none has within `patience`
 * milliseconds.
 */
export async function storeAnswers({ db, nodes, standing }: Database, patience: number): Promise<void> {
  for (const end = Date.now() + patience; ; ) {
    try {
      await db.execute(sql`select 1`);
      return;
    } catch (error) {
      if (!isAway(error) || Date.now() > end) throw error;
      standing.node = (standing.node + 1) % nodes;
      await pause(500 / nodes);
    }
  }
}

/**
 * Runs a transaction over a connection that is let go whatever becomes of it, and cut off when it takes longer than `patience`
 * milliseconds. Its statements go in as few turns as can be.
 */
function transactOver(pool: Pool, standing: StoreStatus, patience: number): Transact {
  return (work, config) =>
    faulting(standing, async () => {
      const connection = await connectionOf(pool);
      const timer = setTimeout(() => cutOff(connection), patience);
      const turns = new Turns(connection);
      try {
        await begin(turns, config);
        const done = await work(new StoreTransaction(turns, standing));
        await turns.commit();
        connection.release();
        return done;
      } catch (error) {
        // What of it is still open nobody knows where the store was away.
        if (isAway(storeFault(error)) || !(await turns.undo())) connection.destroy();
        else connection.release();
        throw error;
      } finally {
        clearTimeout(timer);
      }
    });
}

function connectionOf(pool: Pool): Promise<PoolConnection> {
  return new Promise((resolve, reject) => {
    pool.pool.getConnection((error, connection) => (error ? reject(error) : resolve(connection)));
  });
}

async function begin(turns: Turns, config?: MySqlTransactionConfig): Promise<void> {
  if (config?.isolationLevel) await turns.putOff(`set transaction isolation level ${config.isolationLevel}`);
  const how = [config?.withConsistentSnapshot && 'with consistent snapshot', config?.accessMode].filter(Boolean);
  await turns.putOff(`start transaction ${how.join(', ')}`);
}

/**
 * Has a statement run whose answer nobody waits for: in a transaction it goes along with the next one that somebody waits for,
 * before it, or with the end of the transaction, which fails where it does. Elsewhere it is waited for.
 */
export async function later(
  tx: Queryable,
  statement: Statement & PromiseLike<[LateAnswer, unknown]>,
): Promise<LateAnswer> {
  if (!(tx instanceof StoreTransaction)) return (await statement)[0];
  const { sql, params } = statement.toSQL();
  return await tx.turns.putOff(sql, params);
}
