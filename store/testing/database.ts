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

/** Databases that tests are done with and have emptied, for those after them. */
const free: string[] = [];

/** A database of its own for a test, with all tables and nothing in them; over `connections` connections. */
export async function emptyDatabase(mariadb: string, connections = 2): Promise<Database> {
  const known = free.pop();
  const address = known ?? (await newDatabase(mariadb));
  const database = openDatabase(address, connections);
  if (!known) await migrateDatabase(database, 'store/migrations');
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
