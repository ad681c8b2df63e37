import { NoopLogger, type Query } from 'drizzle-orm';
import { NoopCache } from 'drizzle-orm/cache/core';
import type { WithCacheConfig } from 'drizzle-orm/cache/core/types';
import {
  MySqlDialect,
  type MySqlPreparedQueryConfig,
  type MySqlTransactionConfig,
  type SelectedFieldsOrdered,
} from 'drizzle-orm/mysql-core';
import {
  type MySql2Client,
  MySql2Database,
  MySql2PreparedQuery,
  MySql2Session,
  MySql2Transaction,
} from 'drizzle-orm/mysql2';
import { StoreFault, storeFault } from './fault.ts';
import type { StoreStatus } from './store-status.ts';
import type { Turns } from './turns.ts';

/** No tables are declared to it: questions name them. */
type None = Record<string, never>;

/** A statement; what goes wrong comes out as a {@link StoreFault}, and while the store is silent it is not asked. */
class StoreQuery<Config extends MySqlPreparedQueryConfig> extends MySql2PreparedQuery<Config> {
  status: StoreStatus | undefined;

  override async execute(values?: Record<string, unknown>): Promise<Config['execute']> {
    return await faulting(this.status, () => super.execute(values));
  }
}

/** What the library gives beside a statement. */
type Given<Config extends MySqlPreparedQueryConfig> = [
  fields: SelectedFieldsOrdered | undefined,
  mapRows?: (rows: unknown[][]) => Config['execute'],
  generatedIds?: Record<string, unknown>[],
  returningIds?: SelectedFieldsOrdered,
  metadata?: { type: 'select' | 'update' | 'delete' | 'insert'; tables: string[] },
  cacheConfig?: WithCacheConfig,
];

/** Runs transactions. */
export type Transact = <Value>(
  work: (tx: StoreTransaction) => Promise<Value>,
  config?: MySqlTransactionConfig,
) => Promise<Value>;

const dialect = new MySqlDialect();
const logger = new NoopLogger();
const cache = new NoopCache();

/** The library's session, with statements and transactions of our own. */
class StoreSession extends MySql2Session<None, None> {
  constructor(
    private readonly connection: MySql2Client,
    private readonly status: StoreStatus,
    private readonly transact?: Transact,
  ) {
    super(connection, dialect, undefined, { mode: 'default' });
  }

  override prepareQuery<Config extends MySqlPreparedQueryConfig>({ sql, params }: Query, ...given: Given<Config>) {
    const [fields, mapRows, generatedIds, returningIds, metadata, cacheConfig] = given;
    const query = new StoreQuery<Config>(
      ...[this.connection, sql, params, logger, cache, metadata, cacheConfig],
      ...[fields, mapRows, generatedIds, returningIds],
    );
    query.status = this.status;
    return query;
  }

  override async transaction<Value>(
    work: (tx: MySql2Transaction<None, None>) => Promise<Value>,
    config?: MySqlTransactionConfig,
  ): Promise<Value> {
    return this.transact ? await this.transact(work, config) : await super.transaction(work, config);
  }
}

/** The store over connections; transactions are run by `transact`, or as the library does. */
export function storeOver(connection: MySql2Client, status: StoreStatus, transact?: Transact): MySql2Database {
  return new MySql2Database(dialect, new StoreSession(connection, status, transact), undefined, 'default');
}

/** A transaction whose statements go in turns. */
export class StoreTransaction extends MySql2Transaction<None, None> {
  constructor(
    readonly turns: Turns,
    status: StoreStatus,
  ) {
    super(dialect, new StoreSession(turns.connection, status), undefined, 0, 'default');
  }
}

/** Has what goes wrong come out as a fault of the store; while that is silent nothing is tried. */
export async function faulting<Value>(status: StoreStatus | undefined, work: () => Promise<Value>): Promise<Value> {
  if (status?.isSilent) throw new StoreFault('away', 'SILENT', '');
  try {
    return await work();
  } catch (error) {
    throw storeFault(error);
  }
}
