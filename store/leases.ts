import { sql } from 'drizzle-orm';
import type { Database, Queryable } from './database.ts';
import { leases } from './schema.ts';

/** A lease as its holder has it. */
export interface Lease {
  readonly name: string;
  /** The engine that holds it. */
  readonly holder: string;
  /** Grows with each holder. */
  readonly token: number;
}

/** How long a lease holds without being renewed, in milliseconds. */
export const leaseTime = 8_000;

/** Milliseconds since 1970 on the database's clock, which is the only one that leases go by. */
const now = sql`cast(unix_timestamp(now(3)) * 1000 as signed)`;

/** What was asked of the holder's lease does not hold any more: another engine has it. */
export class LeaseLost extends Error {
  override readonly name = 'LeaseLost';

  constructor(readonly lease: string) {
    super(`Another engine has taken over: ${lease}.`);
  }
}

/**
 * Takes those of some leases that are free or ran out, and renews those that `holder` has. Returns all that it has now;
 * one of them is new where its token differs from the one known before.
 */
export async function takeLeases(
  database: Database,
  names: readonly string[],
  holder: string,
): Promise<readonly Lease[]> {
  if (names.length === 0) return [];
  const { db } = database;
  const listed = sql.join(
    names.map((name) => sql`${name}`),
    sql`, `,
  );
  // First a look: the rows are locked only where there is something to take or to renew.
  const rows = await db.execute(sql`
    select name, holder = ${holder} as mine, until < ${now} as free from ${leases} where name in (${listed})`);
  const known = rowsOf(rows);
  const missing = names.filter((name) => !known.some((row) => row.name === name));
  if (missing.length > 0)
    await db.execute(
      sql`insert ignore into ${leases} (name, holder, token, until) values ${sql.join(
        missing.map((name) => sql`(${name}, '', 0, 0)`),
        sql`, `,
      )}`,
    );
  const free = [...missing, ...known.filter((row) => row.free === 1 && row.mine !== 1).map(({ name }) => name)];
  for (const name of free)
    await db.execute(sql`
      update ${leases} set holder = ${holder}, token = token + 1, until = ${now} + ${leaseTime}
      where name = ${name} and until < ${now}`);
  const renewed = known.filter((row) => row.mine === 1).map(({ name }) => name);
  if (renewed.length > 0)
    await db.execute(sql`
      update ${leases} set until = ${now} + ${leaseTime}
      where holder = ${holder} and name in (${sql.join(
        renewed.map((name) => sql`${name}`),
        sql`, `,
      )})`);
  const answer = await db.execute(
    sql`select name, token from ${leases} where holder = ${holder} and until >= ${now} and name in (${listed})`,
  );
  return rowsOf(answer).map(({ name, token }) => ({ name: String(name), holder, token: Number(token) }));
}

/** Gives leases up, so that another engine need not wait until they run out. */
export async function giveUpLeases(database: Database, holder: string, names?: readonly string[]): Promise<void> {
  if (names?.length === 0) return;
  const listed =
    names &&
    sql`and name in (${sql.join(
      names.map((name) => sql`${name}`),
      sql`, `,
    )})`;
  await database.db.execute(sql`update ${leases} set until = 0 where holder = ${holder} ${listed ?? sql``}`);
}

/** Takes a lease away from whoever has it: what is under way by it cannot be written any more. */
export async function revokeLease(tx: Queryable, name: string): Promise<void> {
  await tx.execute(sql`update ${leases} set token = token + 1, holder = '', until = 0 where name = ${name}`);
}

/**
 * Inside a transaction: makes sure that a lease still has this token and keeps it from changing hands until the end of the
 * transaction. Throws {@link LeaseLost}. One that ran out unnoticed but was not taken by anyone still counts.
 */
export async function guardLease(tx: Queryable, { name, token }: Pick<Lease, 'name' | 'token'>): Promise<void> {
  const rows = await tx.execute(sql`select token from ${leases} where name = ${name} lock in share mode`);
  if (Number(rowsOf(rows)[0]?.token) !== token) throw new LeaseLost(name);
}

type Row = Readonly<Record<string, unknown>>;

/** The rows of an answer to a raw statement: mysql2 gives them with a description of the columns. */
function rowsOf(answer: unknown): readonly Row[] {
  const rows: unknown = Array.isArray(answer) ? answer[0] : [];
  return Array.isArray(rows) ? rows : [];
}
