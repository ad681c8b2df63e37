import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { resolve } from 'node:path';
import { buildEngine, buildWeb } from './build.mjs';
import { startDatabase, stopProcess } from './database.mjs';
import { fail } from './debian.mjs';

/** Ports and places, from the environment. */
export function readSettings(environment) {
  const port = (name, fallback) => {
    const value = Number(environment[name] ?? fallback);
    if (!Number.isInteger(value) || value < 1 || value > 65_535) fail(`${name} is no port: ${environment[name]}`);
    return value;
  };
  const intakePort = port('INTAKE_PORT', 4318);
  return {
    webPort: port('WEB_PORT', 3000),
    intakePort,
    enginePort: port('ENGINE_PORT', intakePort + 1),
    objectsPort: port('OBJECTS_PORT', intakePort + 2),
    syslogPort: port('SYSLOG_PORT', 5514),
    syslogTlsPort: port('SYSLOG_TLS_PORT', Number(environment.SYSLOG_PORT ?? 5514) + 1000),
    dbPort: port('DB_PORT', 3307),
    dataDir: resolve(environment.DATA_DIR ?? '.data'),
    databaseUrl: environment.DATABASE_URL ?? '',
  };
}

/**
 * Starts database, engine, web process and, where asked, the demo's senders. Returns what is needed to stop them all, and
 * `ended`, which resolves to the name of the first of them that ends by itself.
 * `output` is where the processes write (`inherit` or `ignore`). Once `signal` is aborted, and where something does not
 * start, what was started is stopped again and the reason thrown.
 */
export async function startApplication(settings, options = {}) {
  const running = [];
  let stopping = false;
  let tell;
  const ended = new Promise((done) => {
    tell = done;
  });
  const watch = (child, name) => child.once('exit', () => stopping || tell(name));
  const ready = (...signs) =>
    Promise.race([...signs, ended.then((name) => Promise.reject(new Error(`${name} ended before it was ready.`)))]);
  const stop = async () => {
    stopping = true;
    for (const step of running.splice(0).reverse()) await step();
  };
  try {
    const databaseUrl = await startAll(settings, options, { running, watch, ready });
    return { stop, ended, databaseUrl };
  } catch (error) {
    await stop();
    throw error;
  }
}

async function startAll(settings, options, { running, watch, ready }) {
  const { demo = false, fresh = false, output = 'inherit', web = true, signal } = options;
  // Before anything is removed: it may be this application that runs there already.
  if (web && !(await isFree(settings.webPort)))
    throw new Error(`Port ${settings.webPort} is taken. Stop what uses it, or set WEB_PORT to a port that is free.`);
  if (fresh && existsSync(settings.dataDir)) {
    console.log(`Starting over: removing ${settings.dataDir} …`);
    rmSync(settings.dataDir, { recursive: true, force: true });
  }
  mkdirSync(settings.dataDir, { recursive: true });
  await buildEngine();
  if (web) buildWeb();
  // A signal that came while the web process was built is heard only now.
  await new Promise((done) => setImmediate(done));
  signal?.throwIfAborted();
  let url = settings.databaseUrl;
  if (url === '') {
    const database = await startDatabase(settings.dataDir, settings.dbPort);
    running.push(() => database.stop());
    watch(database.child, 'The database');
    url = database.url;
  }
  const environment = {
    ...process.env,
    DATABASE_URL: url,
    INTAKE_PORT: String(settings.intakePort),
    ENGINE_PORT: String(settings.enginePort),
    SYSLOG_PORT: String(settings.syslogPort),
    SYSLOG_TLS_PORT: String(settings.syslogTlsPort),
    OBJECTS_PORT: String(settings.objectsPort),
    DATA_DIR: settings.dataDir,
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  };
  const begin = (name, args, ipc, env = environment) => {
    signal?.throwIfAborted();
    const child = spawn('node', args, {
      env,
      stdio: ['ignore', output, 'inherit', ...(ipc ? ['ipc'] : [])],
      detached: true,
    });
    running.push(() => stopProcess(child, 20_000));
    watch(child, name);
    return child;
  };
  const started = (name, main) => message(begin(name, ['--enable-source-maps', main], true));
  await ready(started('The engine', '.build/engine/main.js'), aborted(signal));
  if (web) {
    const webEnvironment = { ...environment, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' };
    const next = ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(settings.webPort)];
    const child = begin('The web process', next, false, webEnvironment);
    await ready(answering(`http://127.0.0.1:${settings.webPort}/api/plan`, child), aborted(signal));
  }
  if (demo) await ready(started('The demo', '.build/demo/main.js'), aborted(signal));
  return url;
}

function isFree(port) {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });
}

/** Resolves when a child says that it is ready. */
function message(child) {
  return new Promise((done) => child.once('message', done));
}

/** Rejects once the signal is aborted. */
function aborted(signal) {
  return new Promise((_, failed) => signal?.addEventListener('abort', () => failed(signal.reason)));
}

/** Resolves when there is an answer on an address, or when the child that is to give it has ended. */
async function answering(address, child) {
  for (let i = 0; i < 600 && child.exitCode === null && child.signalCode === null; i++) {
    const answer = await fetch(address).catch(() => undefined);
    if (answer?.ok) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  if (child.exitCode === null && child.signalCode === null) throw new Error(`Nothing answers on ${address}.`);
}
