import type { FieldPacket, PoolConnection, QueryOptions } from 'mysql2';
import type { PoolConnection as AwaitedConnection } from 'mysql2/promise';
import { StoreFault, storeFault, tableOf } from './fault.ts';

/** A statement as the query builders make it. */
export interface Statement {
  readonly toSQL: () => { readonly sql: string; readonly params: readonly unknown[] };
}

/** What the store says to a statement that was put off. */
export interface LateAnswer {
  /** The id that the row got; there once the transaction has committed. */
  readonly insertId: number;
}

/** Characters of statements that are put off at most; more of them are sent at once. */
const mostPutOff = 1_000_000;

interface PutOff {
  readonly text: string;
  readonly answer: { insertId: number };
}

/**
 * The turns that the statements of one transaction take to the store and back. Those whose answer nobody waits for are put off
 * and go along with the next one that somebody waits for, before it: what a group of events brings goes in three or four turns
 * instead of fifteen.
 */
export class Turns {
  private readonly waiting: PutOff[] = [];
  private length = 0;
  /** Whether anything was sent. */
  private hasBegun = false;
  /** The connection, to be asked through the turns. */
  readonly connection: AwaitedConnection;

  constructor(private readonly direct: PoolConnection) {
    const query = (options: QueryOptions, values: readonly unknown[]): Promise<[unknown, FieldPacket[]]> =>
      this.ask(options, values);
    this.connection = new Proxy(direct.promise(), {
      get: (connection, name) => (name === 'query' ? query : Reflect.get(connection, name)),
    });
  }

  /** Puts a statement off. Resolves at once, unless so much waits that it is sent. */
  async putOff(sql: string, values: readonly unknown[] = []): Promise<LateAnswer> {
    const text = this.direct.format(sql, [...values]);
    const answer = { insertId: 0 };
    this.waiting.push({ text, answer });
    this.length += text.length;
    if (this.length > mostPutOff) await this.flush();
    return answer;
  }

  /** Sends what was put off, and commits once all of it has been taken. */
  async commit(): Promise<void> {
    await this.flush();
    await this.send({ sql: 'commit' }, []);
  }

  /** Undoes what was sent; whether the connection can be used again. */
  async undo(): Promise<boolean> {
    this.waiting.length = 0;
    if (!this.hasBegun) return true;
    return await this.send({ sql: 'rollback' }, []).then(
      () => true,
      () => false,
    );
  }

  private async flush(): Promise<void> {
    const last = this.waiting.pop();
    if (!last) return;
    const [answer] = await this.send({ sql: last.text }, this.waiting.splice(0));
    note(last, answer);
  }

  /** Sends what was put off, and a statement behind it, whose answer it returns. */
  private async ask(options: QueryOptions, values: readonly unknown[]): Promise<[unknown, FieldPacket[]]> {
    const text = this.direct.format(options.sql, [...values]);
    return await this.send({ ...options, sql: text }, this.waiting.splice(0));
  }

  private send(last: QueryOptions, before: readonly PutOff[]): Promise<[unknown, FieldPacket[]]> {
    this.hasBegun = true;
    this.length = 0;
    const texts = [...before.map(({ text }) => text), last.sql];
    return new Promise((resolve, reject) => {
      let done = 0;
      const command = this.direct.query(
        { ...last, sql: texts.join(';') },
        (error: unknown, given: unknown, fields: FieldPacket[]) => {
          if (error) reject(faultIn(texts[done] ?? '', error));
          else if (!Array.isArray(given) || before.length === 0) resolve([given, fields]);
          else {
            for (const [i, one] of before.entries()) note(one, given[i]);
            resolve([given.at(-1), []]);
          }
        },
      );
      // It is reported for each statement that was done.
      command.on('fields', () => done++);
    });
  }
}

function note({ answer }: PutOff, given: unknown): void {
  if (typeof given === 'object' && given !== null && 'insertId' in given) answer.insertId = Number(given.insertId);
}

/** What became of a statement; which table it was about follows from it, not from those that went along with it. */
function faultIn(statement: string, error: unknown): unknown {
  const fault = storeFault(error);
  return fault instanceof StoreFault ? new StoreFault(fault.kind, fault.code, tableOf(statement)) : fault;
}
