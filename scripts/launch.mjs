import { spawn, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { fail, requirePrograms } from './debian.mjs';
import { requireDependencies } from './dependencies.mjs';

const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 9))
  fail(`Node.js 20.9 or newer is needed; this is ${process.versions.node}.`);

// Whoever read what is written here may be gone; what runs goes on.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {});

process.chdir(resolve(dirname(fileURLToPath(import.meta.url)), '..'));
const [mode, ...options] = process.argv.slice(2);

/**
 * Runs one of the project's tools; ends with its exit code where it fails.
 * @param {string} title
 * @param {readonly string[]} args
 */
function run(title, args) {
  console.log(`── ${title}`);
  const result = spawnSync('node', args, { stdio: 'inherit' });
  if (result.status !== 0) process.exit(result.status ?? 1);
}

/**
 * As {@link run}, beside others.
 * @param {string} title
 * @param {readonly string[]} args
 * @returns {Promise<void>}
 */
function begin(title, args) {
  console.log(`── ${title}`);
  const child = spawn('node', args, { stdio: 'inherit' });
  return new Promise((resolve) => child.once('exit', (code) => (code === 0 ? resolve() : process.exit(code ?? 1))));
}

/**
 * How many engines are asked for: `--engines 2`.
 * @param {readonly string[]} args
 */
function enginesIn(args) {
  const at = args.indexOf('--engines');
  const engines = at < 0 ? 1 : Number(args[at + 1]);
  if (!Number.isInteger(engines) || engines < 1 || engines > 8) fail('Write --engines with a number from 1 to 8.');
  return engines;
}

/** @param {boolean} demo */
async function serve(demo) {
  if (!process.env.DATABASE_URL) requirePrograms(['mariadb']);
  requireDependencies('.');
  const { readSettings, startApplication } = await import('./application.mjs');
  const settings = readSettings(process.env);
  const begin = new AbortController();
  /** @type {Awaited<ReturnType<typeof startApplication>> | undefined} */
  let application;
  const stop = async () => {
    if (begin.signal.aborted) return;
    console.log('\nStopping …');
    begin.abort();
    if (!application) return;
    await application.stop();
    process.exit(0);
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  try {
    const choice = { demo, fresh: options.includes('--fresh'), engines: enginesIn(options), signal: begin.signal };
    application = await startApplication(settings, choice);
  } catch (error) {
    // What had been started is stopped by now.
    if (!begin.signal.aborted) fail(error instanceof Error ? error.message : String(error));
    process.exit(0);
  }
  console.log(`\nRestless Otter is at http://127.0.0.1:${settings.webPort}`);
  console.log(
    `Events go to http://127.0.0.1:${settings.intakePort}, syslog to port ${settings.syslogPort}. Ctrl-C stops everything.`,
  );
  const reason = await application.ended;
  begin.abort();
  await application.stop();
  fail(
    `${reason} The rest was stopped with it. What was acknowledged is stored; start again once the cause is mended.`,
  );
}

/** Types, format, directions and dead code: what can be seen without running anything. */
async function check() {
  await Promise.all([
    // Version 7 checks in a third of the time; version 5 stays for what uses the compiler as a library.
    begin('types', ['node_modules/typescript-native/bin/tsc', '-p', '.', '--singleThreaded']),
    begin('format and lint', ['node_modules/@biomejs/biome/bin/biome', 'check', '.'])
      .then(() =>
        begin('directions', [
          'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
          ...['app', 'ui', 'core', 'engine', 'store', 'demo', 'cli'],
          ...['--config', '.dependency-cruiser.mjs', '--output-type', 'err'],
        ]),
      )
      .then(() => begin('dead code', ['node_modules/knip/bin/knip.js'])),
  ]);
}

const vitest = ['node_modules/vitest/vitest.mjs', 'run'];

/**
 * A pattern for titles that have all of some words; Playwright looks at the name of the file too.
 * @param {readonly string[]} words
 */
function withAll(words) {
  return words.map((word) => `(?=.*${word.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')})`).join('');
}

/**
 * The parts of `npm test`, each with the words that files (of the browser's tests, titles too) must have; absent: all.
 * @type {Readonly<Record<string, (words: readonly string[]) => Promise<void>>>}
 */
const testParts = {
  /** What needs no server: under three minutes once everything is installed. */
  quick: async (words) => {
    await check();
    run('tests without a server', [...vitest, '--project', 'units', ...words]);
  },
  /** What needs MariaDB or an engine. */
  servers: async (words) => {
    const { buildEngine } = await import('./build.mjs');
    await buildEngine();
    run('tests with a server', [...vitest, '--project', 'servers', ...words]);
  },
  browser: async (words) => {
    const { buildEngine, buildWeb } = await import('./build.mjs');
    await buildEngine();
    buildWeb();
    // Without the copies there is one installation, so tests run one at a time.
    const pattern = words.length > 0 ? ['--no-deps', '--workers', '1', '--grep', withAll(words)] : [];
    run('browser', ['node_modules/@playwright/test/cli.js', 'test', ...pattern]);
  },
};

async function test() {
  // A new checkout is built once and never again.
  if (!existsSync('.next/cache')) process.env.BUILD_CACHE = 'off';
  const [name, ...words] = options;
  const part = name === undefined ? undefined : testParts[name];
  if (name !== undefined && !part) fail(`Use npm test, or npm test -- ${Object.keys(testParts).join(' | ')} [words].`);
  if (name !== 'quick') requirePrograms(['mariadb', 'chromium', 'logger', 'curl', 'nginx', 'faketime']);
  requireDependencies('.');
  for (const each of part ? [part] : Object.values(testParts)) await each(words);
}

async function bench() {
  requirePrograms(['mariadb', 'jq']);
  requireDependencies('.');
  requireDependencies('bench');
  const { runBench } = await import('../bench/run.mjs');
  await runBench(options);
}

async function otter() {
  requireDependencies('.');
  const { buildEngine } = await import('./build.mjs');
  await buildEngine();
  const result = spawnSync('node', ['.build/cli/main.js', ...options], { stdio: 'inherit' });
  process.exitCode = result.status ?? 1;
}

/** @type {Readonly<Record<string, () => Promise<void>>>} */
const modes = { demo: () => serve(true), start: () => serve(false), test, bench, otter };
const begun = modes[mode ?? ''] ?? fail('Use npm run demo, npm start, npm test, npm run bench or npm run otter.');
await begun();
