import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fail } from './debian.mjs';

/** Packages that stay where they are: two start threads of their files, the others read files beside them or are rarely loaded. */
const separate = ['piscina', 'pino', 'selfsigned', 'i18n-iso-countries'];

/** CommonJS packages in a bundle call `require`, which an ES module does not have. */
const requireInModules =
  "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);";

/**
 * The engine's first file starts a thread before it loads the rest, which is therefore a file of its own.
 * @type {import('esbuild').Plugin}
 */
const runApart = {
  name: 'run apart',
  setup: ({ onResolve }) => onResolve({ filter: /^\.\/run\.ts$/ }, () => ({ path: './run.js', external: true })),
};

/** Builds the engine, its workers and the demo into `.build`. Takes about a second. */
export async function buildEngine() {
  const { build } = await import('esbuild');
  /** @type {import('esbuild').BuildOptions} */
  const options = {
    outdir: '.build',
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    mainFields: ['module', 'main'],
    // All other packages are put into what is built: their many files take longer to find and open than to run.
    external: separate,
    banner: { js: requireInModules },
    sourcemap: true,
    sourcesContent: false,
    logLevel: 'error',
  };
  await build({ ...options, entryPoints: { 'engine/main': 'engine/main.ts' }, plugins: [runApart] });
  await build({
    ...options,
    entryPoints: {
      'engine/run': 'engine/run.ts',
      'engine/process': 'engine/workers/process.ts',
      'engine/read': 'engine/workers/read.ts',
      'engine/filter': 'engine/workers/filter.ts',
      'engine/plan-text': 'engine/workers/plan-text.ts',
      'demo/main': 'demo/main.ts',
      'cli/main': 'cli/main.ts',
    },
  });
}

/** Builds the web process with Next.js, unless the build at hand was made from the same files. */
export function buildWeb() {
  const stamp = '.next/BUILT_FROM';
  const hash = hashFiles([
    'app',
    'ui',
    'core',
    'store',
    'package-lock.json',
    'next.config.ts',
    'postcss.config.mjs',
    'tsconfig.json',
  ]);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  console.log('Building the web process …');
  const result = spawnSync('node', ['node_modules/next/dist/bin/next', 'build'], {
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
  });
  if (result.status !== 0) fail(`The web process could not be built.\n${result.stdout}\n${result.stderr}`);
  mkdirSync('.next', { recursive: true });
  writeFileSync(stamp, hash);
}

/**
 * A hash over files, and all files of folders.
 * @param {readonly string[]} paths
 */
function hashFiles(paths) {
  const hash = createHash('sha256');
  const visit = (/** @type {string} */ path) => {
    if (statSync(path).isDirectory()) {
      for (const name of readdirSync(path).sort()) visit(join(path, name));
    } else if (!/\.test\.tsx?$/.test(path)) {
      hash.update(path).update(readFileSync(path));
    }
  };
  for (const path of paths) if (existsSync(path)) visit(path);
  return hash.digest('hex');
}
