import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createConnection } from 'mysql2/promise';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { freePort } from '#engine/testing/ports.ts';
import { databaseName, type StartedDatabase, startDatabase } from './database.mjs';

let folder: string;
let port: number;
const started: StartedDatabase[] = [];

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'otter-database-'));
  port = await freePort();
});

afterEach(async () => {
  for (const database of started.splice(0)) await database.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function start(name: string): Promise<StartedDatabase> {
  const database = await startDatabase(join(folder, name), port, { quick: true, bufferPool: '32M' });
  started.push(database);
  return database;
}

async function query(url: string, sql: string): Promise<unknown> {
  const connection = await createConnection(url);
  const [rows] = await connection.query(sql);
  await connection.end();
  return rows;
}

test('what is stored is there after a stop and a start', async () => {
  const first = await start('a');
  expect(first.url).toBe(`mysql://root@127.0.0.1:${port}/${databaseName}`);
  await query(first.url, 'create table kept (n int)');
  await query(first.url, 'insert into kept values (7)');
  await first.stop();
  const again = await start('a');
  expect(await query(again.url, 'select n from kept')).toEqual([{ n: 7 }]);
});

test('another server on the port is neither used nor touched, and the refusal says what to do', async () => {
  const first = await start('a');
  await expect(start('b')).rejects.toThrow(`Another database answers on port ${port}. Stop it, or set DB_PORT`);
  expect(await query(first.url, 'select 1 as up')).toEqual([{ up: 1 }]);
});

test('something else that holds the port and says nothing is no database', async () => {
  const mute = createServer();
  await new Promise<void>((done) => mute.listen(port, '127.0.0.1', done));
  await expect(start('a')).rejects.toThrow('does not start on port');
  mute.close();
});
