import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import { migrate } from 'drizzle-orm/mysql2/migrator';
import type { Database } from './database.ts';
import { StoreFault } from './fault.ts';

/** How long an engine waits for another one that is bringing the tables up to date, in milliseconds. */
const patience = 300_000;
/** Between two looks whether it is done, and between two signs of life of whoever does it (milliseconds). */
const lookEvery = 500;
const signEvery = 1_000;
/** Who has given no sign of life for so long has ended (milliseconds). */
const longestPause = 15_000;

/**
 * Brings the tables up to date. Of several engines one does it, while the others wait: whoever has put its name into a row.
 * The store's own locks by name would not do, as each node of a cluster has its own.
 */
export async function migrateDatabase(database: Database, folder: string): Promise<void> {
  const name = randomUUID();
  await database.db.execute(sql`
    create table if not exists migrating (id tinyint primary key, holder varchar(36) not null, beat bigint not null)`);
  await database.db.execute(sql`insert ignore into migrating values (1, '', 0)`);
  await takeTurn(database, name);
  const signs = setInterval(() => {
    // One that is missed is made up for by the next.
    database.db.execute(sql`update migrating set beat = beat + 1 where holder = ${name}`).catch(() => {});
  }, signEvery);
  try {
    await database.exclusively((db) => migrate(db, { migrationsFolder: folder }));
  } finally {
    clearInterval(signs);
    await database.db.execute(sql`update migrating set holder = '' where holder = ${name}`);
  }
}

async function takeTurn({ db }: Database, name: string): Promise<void> {
  let seen = '';
  for (let now = performance.now(), since = now, end = now + patience; ; now = performance.now()) {
    const [row] = rowsOf(await db.execute(sql`select holder, beat from migrating`));
    const sign = `${row?.holder} ${row?.beat}`;
    if (sign !== seen) since = now;
    seen = sign;
    if (row && (row.holder === '' || now - since > longestPause) && (await isTaken(db, name, row))) return;
    if (now > end)
      throw new Error(
        'Another engine has been bringing the tables up to date for minutes; start again when it is done.',
      );
    await pause(lookEvery);
  }
}

type Row = Readonly<Record<string, unknown>>;

/** Whether the row was as it was seen, and has the name now. */
async function isTaken(db: Database['db'], name: string, { holder, beat }: Row): Promise<boolean> {
  try {
    await db.execute(
      sql`update migrating set holder = ${name}, beat = beat + 1 where holder = ${holder} and beat = ${beat}`,
    );
  } catch (error) {
    // Another node of the store was faster.
    if (!(error instanceof StoreFault && error.kind === 'busy')) throw error;
  }
  const [row] = rowsOf(await db.execute(sql`select holder from migrating`));
  return row?.holder === name;
}

/** The rows of an answer to a raw statement: mysql2 gives them with a description of the columns. */
function rowsOf(answer: unknown): readonly Row[] {
  const rows: unknown = Array.isArray(answer) ? answer[0] : [];
  return Array.isArray(rows) ? rows : [];
}
