import { createConnection } from 'mysql2/promise';
import { type Database, openDatabase } from '../database.ts';
import { migrateDatabase } from '../migrate.ts';

/** Makes a database of its own for a test, without tables, on the MariaDB at an address; returns its address. */
export async function newDatabase(mariadb: string): Promise<string> {
  const name = `test_${Math.random().toString(36).slice(2, 10)}`;
  const connection = await createConnection(mariadb);
  await connection.query(`create database ${name} character set utf8mb4 collate utf8mb4_bin`);
  await connection.end();
  return `${mariadb}/${name}`;
}

/** The statements that copy a migrated database into the present one, by the server that has it. */
const copies = new Map<string, Promise<string>>();

/**
 * Makes a database of its own for a test, with all tables and nothing in them; returns its address. One is migrated for each
 * server, and all others are copies of that, which takes a fifth of the time.
 */
export async function databaseWithTables(mariadb: string): Promise<string> {
  const statements = copies.get(mariadb) ?? migratedCopy(mariadb);
  copies.set(mariadb, statements);
  const address = await newDatabase(mariadb);
  const connection = await createConnection({ uri: address, multipleStatements: true });
  await connection.query(await statements);
  await connection.end();
  return address;
}

async function migratedCopy(mariadb: string): Promise<string> {
  const address = await newDatabase(mariadb);
  const database = openDatabase(address, 1);
  await migrateDatabase(database, 'store/migrations');
  await database.close();
  const name = new URL(address).pathname.slice(1);
  const connection = await createConnection(address);
  const [rows] = await connection.query(
    'select table_name as name from information_schema.tables where table_schema = ?',
    [name],
  );
  await connection.end();
  return (rows as { readonly name: string }[])
    .map(
      ({ name: table }) =>
        `create table \`${table}\` like ${name}.\`${table}\`; insert into \`${table}\` select * from ${name}.\`${table}\`;`,
    )
    .join('');
}

/** Databases that tests are done with and have emptied, for those after them. */
const free: string[] = [];

/** A database of its own for a test, with all tables and nothing in them; over `connections` connections. */
export async function emptyDatabase(mariadb: string, connections = 2): Promise<Database> {
  const address = free.pop() ?? (await databaseWithTables(mariadb));
  const database = openDatabase(address, connections);
  const close = async (): Promise<void> => {
    await database.close();
    // One that cannot be emptied is left alone.
    if (await isEmptied(address)) free.push(address);
  };
  return { ...database, close };
}

/** Takes everything out of all tables but what the migrations are; numbers begin from 1 again. */
async function isEmptied(address: string): Promise<boolean> {
  try {
    const connection = await createConnection({ uri: address, multipleStatements: true });
    const [rows] = await connection.query(`select table_name as name, auto_increment as next from
      information_schema.tables where table_schema = database() and table_name not in ('__drizzle_migrations', 'migrating')`);
    const statements = (rows as { readonly name: string; readonly next: number | null }[]).map(
      ({ name, next }) =>
        `delete from \`${name}\`; ${(next ?? 1) > 1 ? `alter table \`${name}\` auto_increment = 1;` : ''}`,
    );
    await connection.query(statements.join(''));
    await connection.end();
    return true;
  } catch {
    return false;
  }
}
