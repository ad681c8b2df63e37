/**
 * What kept the store from doing something:
 * - `away`: it cannot be reached, is stopping, or has no room; the same may well succeed later.
 * - `busy`: another transaction was in the way; the same succeeds when tried again at once.
 * - `repeated`: a row with the same key exists.
 * - `refused`: it will not take this, however often it is tried.
 */
export type StoreFaultKind = 'away' | 'busy' | 'repeated' | 'refused';

/**
 * An error of the store without anything of its rows: the driver's errors carry the statement and its values, which are
 * event data and hashes of tokens, and must reach no log and no answer.
 */
export class StoreFault extends Error {
  override readonly name = 'StoreFault';

  constructor(
    readonly kind: StoreFaultKind,
    /** The driver's or the server's code, such as `ER_DUP_ENTRY`. */
    readonly code: string,
    /** The table that the statement was about; empty when it named none. */
    readonly table: string,
  ) {
    super(sentences[kind](code, table));
  }
}

const sentences: Readonly<Record<StoreFaultKind, (code: string, table: string) => string>> = {
  away: (code) => `The store cannot be reached or has no room (${code}).`,
  busy: (code) => `The store was busy with something else (${code}).`,
  repeated: (_, table) => `There is such a row in ${table || 'the store'} already.`,
  refused: (code, table) => `The store does not take this${table && ` in ${table}`} (${code}).`,
};

const away =
  /^(E(CONN|PIPE|TIMEDOUT|HOSTUNREACH|NOENT|NOTFOUND|AI_AGAIN)|PROTOCOL_|POOL_|ERR_STREAM_|ER_(SERVER_|CON_|TOO_MANY_|CONNECTION_|NEW_ABORTING|NORMAL_SHUTDOWN|SHUTDOWN|DISK_FULL|RECORD_FILE_FULL|OUT_?OF|OUT_OF_RESOURCES|OPTION_PREVENTS|READ_ONLY|QUERY_INTERRUPTED|STATEMENT_TIMEOUT|ABORTING|LOCK_TABLE_FULL|ERROR_ON_WRITE|UNKNOWN_COM|ACCESS_DENIED|DBACCESS))/;
const busy = /^(ER_LOCK_DEADLOCK|ER_LOCK_WAIT_TIMEOUT|ER_CHECKREAD)/;
const closed = /Connection is closed|connection is in closed state|Pool is closed|pool closed/i;

/** An error of the driver as a fault of the store; an error of another kind as it is. */
export function storeFault(error: unknown): unknown {
  let statement = '';
  for (let fault: unknown = error, depth = 0; fault instanceof Error && depth < 5; fault = fault.cause, depth++) {
    if (fault instanceof StoreFault) return fault;
    if ('query' in fault && typeof fault.query === 'string') statement = fault.query;
    const code = codeOf(fault);
    if (code !== '') return new StoreFault(kindOf(code), code, tableOf(statement));
    if (closed.test(fault.message)) return new StoreFault('away', 'CLOSED', '');
  }
  return statement === '' ? error : new StoreFault('refused', 'UNKNOWN', tableOf(statement));
}

/** MariaDB's errors that the driver has no names for, by their numbers. */
const unnamed: ReadonlyMap<unknown, string> = new Map([[1969, 'ER_STATEMENT_TIMEOUT']]);

function codeOf(fault: Error): string {
  if ('code' in fault && typeof fault.code === 'string') return fault.code;
  return 'errno' in fault ? (unnamed.get(fault.errno) ?? '') : '';
}

function kindOf(code: string): StoreFaultKind {
  if (away.test(code)) return 'away';
  if (busy.test(code)) return 'busy';
  return code === 'ER_DUP_ENTRY' ? 'repeated' : 'refused';
}

/** The table that a statement writes to, or else reads; empty where it names none. */
export function tableOf(statement: string): string {
  return /\b(?:into|update|from)\s+`(\w+)`/i.exec(statement)?.[1] ?? '';
}

/** Whether an error says that the store cannot be reached, rather than that something was wrong with what was asked. */
export function isAway(error: unknown): boolean {
  return error instanceof StoreFault && error.kind === 'away';
}

/** Whether an error says that a row with the same key exists in a table. */
export function isRepeated(error: unknown, table: string): boolean {
  return error instanceof StoreFault && error.kind === 'repeated' && error.table === table;
}
