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

/** A new database with all tables and nothing in them; over `connections` connections. */
export async function emptyDatabase(mariadb: string, connections = 2): Promise<Database> {
  const database = openDatabase(await newDatabase(mariadb), connections);
  await migrateDatabase(database, 'store/migrations');
  return database;
}
