import { spawn } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { createServer } from 'node:net';
import { join, resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { buildEngine, buildWeb } from './build.mjs';
import { claimFolder } from './claim-folder.mjs';
import { secretIn, startDatabase, stopProcess } from './database.mjs';
import { fail } from './debian.mjs';
import { engineHeap } from './heap.mjs';
import { supervise } from './supervise.mjs';

/** @typedef {import('node:child_process').ChildProcess} ChildProcess */
/** @typedef {() => Promise<import('./supervise.mjs').StartedPart>} Begin */
/** @typedef {ReturnType<typeof readSettings>} ApplicationSettings */

/**
 * Ports and places, from the environment.
 * @param {Readonly<Record<string, string | undefined>>} environment
 */
export function readSettings(environment) {
  const port = (/** @type {string} */ name, /** @type {number} */ fallback) => {
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
 * What of the application is started.
 * @typedef {object} ApplicationOptions
 * @property {boolean} [demo] whether the demo's senders run
 * @property {boolean} [fresh] whether the data folder is removed first
 * @property {'inherit' | 'ignore'} [output] where the processes write
 * @property {boolean} [web]
 * @property {number} [engines] how many share the database, on ports next to each other
 * @property {AbortSignal} [signal] once it is aborted, what was started is stopped again and the reason thrown
 */

/**
 * Starts database, engine, web process and, where asked, the demo's senders, and keeps them running: one that ends by
 * itself is started again. Returns what is needed to stop them all, and `ended`, which resolves with the reason when one of
 * them ends again and again. Where something does not start, what was started is stopped again and the reason thrown.
 * @param {ApplicationSettings} settings
 * @param {ApplicationOptions} [options]
 */
export async function startApplication(settings, options = {}) {
  /** @type {(() => Promise<unknown>)[]} */
  const running = [];
  /** @type {(reason: string) => void} */
  let giveUp = () => {};
  const ended = new Promise((/** @type {(reason: string) => void} */ done) => {
    giveUp = done;
  });
  const stop = async () => {
    for (const step of running.splice(0).reverse()) await step();
  };
  try {
    const databaseUrl = await startAll(settings, options, running, giveUp);
    return { stop, ended, databaseUrl };
  } catch (error) {
    await stop();
    throw error;
  }
}

/**
 * @param {ApplicationSettings} settings
 * @param {ApplicationOptions} options
 * @param {(() => Promise<unknown>)[]} running
 * @param {(reason: string) => void} giveUp
 */
async function startAll(settings, options, running, giveUp) {
  const { demo = false, fresh = false, output = 'inherit', web = true, engines = 1, signal } = options;
  const { dataDir } = settings;
  // Before anything is removed: it may be this application that runs there already.
  if (web && !(await isFree(settings.webPort)))
    throw new Error(`Port ${settings.webPort} is taken. Stop what uses it, or set WEB_PORT to a port that is free.`);
  mkdirSync(dataDir, { recursive: true });
  const claim = await claimFolder(dataDir);
  running.push(() => claim.close());
  if (fresh) {
    console.log(`Starting over: removing ${dataDir} …`);
    rmSync(dataDir, { recursive: true, force: true });
    mkdirSync(dataDir, { recursive: true });
  }
  await buildEngine();
  if (web) buildWeb();
  // A signal that came while the web process was built is heard only now.
  await new Promise((/** @type {(value?: undefined) => void} */ done) => void setImmediate(done));
  signal?.throwIfAborted();
  /** @type {(...part: [name: string, begin: Begin, obstacle?: () => Promise<string | undefined>]) => Promise<void>} */
  const keep = async (name, begin, obstacle) => {
    const kept = await supervise(name, begin, giveUp, obstacle);
    running.push(() => kept.stop());
  };
  let url = settings.databaseUrl;
  if (url === '') {
    await keep(
      'The database',
      async () => {
        const database = await startDatabase(dataDir, settings.dbPort);
        url = database.url;
        return database;
      },
      fullDisk(dataDir),
    );
  }
  // Of a store that was not started here, whoever runs it says where it is.
  const storeFolder = settings.databaseUrl === '' ? dataDir : (process.env.STORE_FOLDER ?? '');
  const environment = { ...environmentOf(settings, url, demo), STORE_FOLDER: storeFolder };
  /** @type {(name: string, args: readonly string[], ipc: boolean, more?: Record<string, string>) => ChildProcess} */
  const begin = (name, args, ipc, more = {}) => {
    signal?.throwIfAborted();
    /** @type {import('node:child_process').StdioOptions} */
    const stdio = ipc ? ['ignore', output, 'inherit', 'ipc'] : ['ignore', output, 'inherit'];
    const child = spawn('node', args, { env: { ...environment, ...more }, stdio, detached: true });
    writeFileSync(join(dataDir, `${name}.pid`), String(child.pid));
    return child;
  };
  // One that is not ready in the end is stopped here; later it is up to who supervises.
  const ready = async (/** @type {ChildProcess} */ child, /** @type {Promise<unknown>} */ sign) => {
    const stop = () => stopProcess(child, 20_000);
    const begun = new AbortController();
    try {
      await Promise.race([sign, death(child), aborted(signal, begun.signal)]);
    } catch (error) {
      await stop();
      throw error;
    } finally {
      begun.abort();
    }
    return { child, stop };
  };
  /** @type {(name: string, main: string, more?: Record<string, string>, options?: readonly string[]) => Begin} */
  const startMain =
    (name, main, more, options = []) =>
    async () => {
      const child = begin(name, [...options, main], true, more);
      return await ready(child, message(child));
    };
  for (let which = 0; which < engines; which++) {
    const title = which === 0 ? 'The engine' : `Engine ${which + 1}`;
    const name = which === 0 ? 'engine' : `engine-${which + 1}`;
    await keep(title, startMain(name, '.build/engine/main.js', portsOf(settings, which), engineHeap));
  }
  if (web) {
    await keep('The web process', async () => {
      const child = begin('web', ['scripts/web.mjs'], false, {
        WEB_PORT: String(settings.webPort),
        NODE_ENV: 'production',
        NEXT_TELEMETRY_DISABLED: '1',
        // It asks whichever engine answers, and has nothing to do with the store.
        ENGINE_PORT: Array.from({ length: engines }, (_, which) => portsOf(settings, which).ENGINE_PORT).join(','),
        DATABASE_URL: '',
      });
      return await ready(child, answering(`http://127.0.0.1:${settings.webPort}/api/plan`, child));
    });
  }
  if (demo) await keep('The demo', startMain('demo', '.build/demo/main.js'));
  return url;
}

/**
 * Where one of several engines listens: each ten ports on from the one before it, for syslog one.
 * @param {Pick<ApplicationSettings, 'intakePort' | 'enginePort' | 'syslogPort' | 'syslogTlsPort'>} settings
 * @param {number} which
 */
export function portsOf({ intakePort, enginePort, syslogPort, syslogTlsPort }, which) {
  return {
    INTAKE_PORT: String(intakePort + 10 * which),
    ENGINE_PORT: String(enginePort + 10 * which),
    SYSLOG_PORT: String(syslogPort + which),
    SYSLOG_TLS_PORT: String(syslogTlsPort + which),
  };
}

/**
 * The environment of the processes. Who runs them may say more, and other bounds.
 * @param {ApplicationSettings} settings
 * @param {string} url
 * @param {boolean} demo
 */
function environmentOf(settings, url, demo) {
  const { dataDir } = settings;
  return {
    // The demo's sources read what the demo writes and serves, and nothing else.
    ...(demo && { SOURCE_FOLDERS: join(dataDir, 'files'), SOURCE_HOSTS: `127.0.0.1:${settings.objectsPort}` }),
    ENGINE_SECRET: secretIn(dataDir, 'engine-secret'),
    ...process.env,
    DATABASE_URL: url,
    INTAKE_PORT: String(settings.intakePort),
    ENGINE_PORT: String(settings.enginePort),
    SYSLOG_PORT: String(settings.syslogPort),
    SYSLOG_TLS_PORT: String(settings.syslogTlsPort),
    OBJECTS_PORT: String(settings.objectsPort),
    DATA_DIR: dataDir,
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  };
}

/**
 * @param {number} port
 * @returns {Promise<boolean>}
 */
function isFree(port) {
  return new Promise((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => done(true)));
  });
}

/** The database can do nothing with less of its disk free, in bytes. */
const leastRoom = 64_000_000;

/**
 * Says that the disk of a folder is full, which is no fault of the database and cannot be mended by starting it again.
 * @param {string} folder
 */
function fullDisk(folder) {
  return async () => {
    const { bavail, bsize } = await statfs(folder);
    const free = bavail * bsize;
    if (free >= leastRoom) return undefined;
    return `the disk of ${folder} is full (${Math.floor(free / 1e6)} MB free)`;
  };
}

/**
 * Resolves when a child says that it is ready.
 * @param {ChildProcess} child
 */
function message(child) {
  return new Promise((done) => child.once('message', done));
}

/**
 * Rejects when a child ends.
 * @param {ChildProcess} child
 */
function death(child) {
  return new Promise((_, failed) => {
    child.once('exit', (code, signal) =>
      failed(new Error(`it ended before it was ready (${signal ?? `code ${code}`})`)),
    );
  });
}

/**
 * Rejects once the signal is aborted; it is listened to until `end` is.
 * @param {AbortSignal | undefined} signal
 * @param {AbortSignal} end
 */
function aborted(signal, end) {
  return new Promise((_, failed) =>
    signal?.addEventListener('abort', () => failed(signal.reason), { once: true, signal: end }),
  );
}

/**
 * Resolves when there is an answer on an address, or when the child that is to give it has ended.
 * @param {string} address
 * @param {ChildProcess} child
 */
async function answering(address, child) {
  for (let i = 0; i < 600 && child.exitCode === null && child.signalCode === null; i++) {
    const answer = await fetch(address).catch(() => undefined);
    if (answer?.ok) return;
    await pause(100);
  }
  if (child.exitCode === null && child.signalCode === null) throw new Error(`Nothing answers on ${address}.`);
}
