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
 * Starts database, engine, web process and, where asked, the demo's senders. Returns what is needed to stop them all.
 * `output` is where the processes write (`inherit` or `ignore`). Once `signal` is aborted, and where something does not
 * start, what was started is stopped again and the reason thrown.
 */
export async function startApplication(settings, options = {}) {
  const running = [];
  const stop = async () => {
    for (const step of running.splice(0).reverse()) await step();
  };
  try {
    return { stop, ...(await startAll(settings, options, running)) };
  } catch (error) {
    await stop();
    throw error;
  }
}

async function startAll(settings, { demo = false, fresh = false, output = 'inherit', web = true, signal }, running) {
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
  const begin = (args, ipc, env = environment) => {
    signal?.throwIfAborted();
    const child = spawn('node', args, {
      env,
      stdio: ['ignore', output, 'inherit', ...(ipc ? ['ipc'] : [])],
      detached: true,
    });
    running.push(() => stopProcess(child, 20_000));
    return child;
  };
  const engine = begin(['--enable-source-maps', '.build/engine/main.js'], true);
  await readyMessage(engine, 'The engine', signal);
  if (web) {
    const webEnvironment = { ...environment, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' };
    begin(
      ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(settings.webPort)],
      false,
      webEnvironment,
    );
    await answering(`http://127.0.0.1:${settings.webPort}/api/plan`, signal);
  }
  if (demo) await readyMessage(begin(['--enable-source-maps', '.build/demo/main.js'], true), 'The demo', signal);
  return { engine, databaseUrl: url };
}

function isFree(port) {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });
}

/** Resolves when a child says that it is ready; throws when it ends before, or nobody waits for it any more. */
function readyMessage(child, name, signal) {
  return new Promise((done, failed) => {
    const settle = (how, value) => {
      child.off('exit', ended);
      child.off('message', ready);
      signal?.removeEventListener('abort', aborted);
      how(value);
    };
    const ended = () => settle(failed, new Error(`${name} ended before it was ready.`));
    const ready = () => settle(done);
    const aborted = () => settle(failed, signal.reason);
    child.once('exit', ended);
    child.once('message', ready);
    signal?.addEventListener('abort', aborted);
  });
}

async function answering(address, signal) {
  for (let i = 0; i < 600; i++) {
    const answer = await fetch(address).catch(() => undefined);
    if (answer?.ok) return;
    signal?.throwIfAborted();
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`Nothing answers on ${address}.`);
}
