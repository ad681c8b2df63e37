import { spawnSync } from 'node:child_process';
import { buildEngine } from '../scripts/build.mjs';
import { engineHeap } from '../scripts/heap.mjs';

/**
 * Builds and runs the bench; ends with a non-zero code when a ratio misses its floor.
 * @param {readonly string[]} options
 */
export async function runBench(options) {
  await buildEngine();
  const { build } = await import('esbuild');
  await build({
    entryPoints: ['bench/main.ts'],
    outfile: 'bench/.build/main.mjs',
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    logLevel: 'error',
  });
  // As the engine, whose code is measured here, sets its heaps.
  const heap = ['--max-old-space-size=6000', '--no-concurrent-marking', ...engineHeap];
  const result = spawnSync('node', [...heap, 'bench/.build/main.mjs', ...options], {
    stdio: 'inherit',
  });
  process.exitCode = result.status ?? 1;
}
