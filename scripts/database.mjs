import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, openSync, realpathSync } from 'node:fs';
import { connect } from 'node:net';
import { userInfo } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { fail, programPath } from './debian.mjs';

/** Name of the database. */
export const databaseName = 'restless_otter';

/**
 * Starts MariaDB on loopback with its data below `folder`, and makes the database where it is missing.
 * Returns the process and its address. Data of an earlier run stays.
 */
export async function startDatabase(folder, port, { bufferPool = '384M', quick = false } = {}) {
  const server = programPath('mariadb');
  const home = resolve(folder, 'mariadb');
  const user = userInfo().username;
  if (!existsSync(join(home, 'mysql'))) {
    mkdirSync(home, { recursive: true });
    const installer = ['/usr/bin/mariadb-install-db', join(dirname(server), 'mariadb-install-db')].find((file) =>
      existsSync(file),
    );
    const made = spawnSync(
      installer,
      [
        '--no-defaults',
        `--datadir=${home}`,
        `--user=${user}`,
        '--auth-root-authentication-method=normal',
        '--skip-test-db',
      ],
      { stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' },
    );
    if (made.status !== 0) fail(`MariaDB could not make its data folder ${home}:\n${made.stderr}`);
  }
  // A server that starts clears its folder for temporary tables: it must not be one that another server works in.
  const temporary = resolve(folder, 'mariadb-temporary');
  mkdirSync(temporary, { recursive: true });
  const output = openSync(join(folder, 'mariadb.log'), 'a');
  const child = spawn(
    server,
    [
      '--no-defaults',
      `--datadir=${home}`,
      `--tmpdir=${temporary}`,
      `--user=${user}`,
      `--port=${port}`,
      '--bind-address=127.0.0.1',
      `--socket=${join(home, 's.sock')}`,
      `--pid-file=${join(home, 'server.pid')}`,
      '--skip-name-resolve',
      '--skip-log-bin',
      '--character-set-server=utf8mb4',
      '--collation-server=utf8mb4_bin',
      '--max-allowed-packet=256M',
      '--max-connections=200',
      `--innodb-buffer-pool-size=${bufferPool}`,
      '--innodb-log-file-size=256M',
      `--innodb-flush-log-at-trx-commit=${quick ? 0 : 1}`,
      '--innodb-flush-method=fsync',
      '--performance-schema=OFF',
    ],
    { stdio: ['ignore', output, output], detached: true },
  );
  let ended = false;
  child.once('exit', () => {
    ended = true;
  });
  const stop = () => stopProcess(child, 60_000);
  const giveUp = async (reason) => {
    await stop();
    throw new Error(reason);
  };
  for (let i = 0; !(await answers(port)); i++) {
    if (ended || i > 300)
      await giveUp(
        `MariaDB does not start on port ${port}; see ${join(folder, 'mariadb.log')}. If the port is taken, set DB_PORT.`,
      );
    await new Promise((done) => setTimeout(done, 100));
  }
  const { createConnection } = await import('mysql2/promise');
  const connection = await createConnection({ host: '127.0.0.1', port, user: 'root' });
  const [[{ folder: served }]] = await connection.query('select @@datadir as folder');
  if (!existsSync(served) || realpathSync(served) !== realpathSync(home)) {
    connection.destroy();
    await giveUp(`Another database answers on port ${port}. Stop it, or set DB_PORT to a port that is free.`);
  }
  await connection.query(`create database if not exists ${databaseName} character set utf8mb4 collate utf8mb4_bin`);
  await connection.end();
  return { child, url: `mysql://root@127.0.0.1:${port}/${databaseName}`, stop };
}

function answers(port) {
  return new Promise((done) => {
    const socket = connect({ host: '127.0.0.1', port });
    socket.once('data', () => {
      socket.destroy();
      done(true);
    });
    socket.once('error', () => done(false));
    socket.setTimeout(500, () => {
      socket.destroy();
      done(false);
    });
  });
}

/** Asks a process to end, and ends it after `patience` milliseconds. Resolves when it has ended. */
export function stopProcess(child, patience) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((done) => {
    const timer = setTimeout(() => child.kill('SIGKILL'), patience);
    child.once('exit', () => {
      clearTimeout(timer);
      done();
    });
    child.kill('SIGTERM');
  });
}
