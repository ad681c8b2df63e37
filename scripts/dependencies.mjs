import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fail } from './debian.mjs';

/**
 * Installs the packages of a folder's lock file with `npm ci`, unless they are there already.
 * @param {string} folder
 */
export function requireDependencies(folder) {
  const lock = createHash('sha256')
    .update(readFileSync(join(folder, 'package-lock.json')))
    .digest('hex');
  const stamp = join(folder, 'node_modules', '.installed');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  console.log('Installing packages with npm ci …');
  /** @type {NodeJS.ProcessEnv} */
  const environment = { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1', NODE_ENV: 'development' };
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--include=dev'], {
    cwd: folder,
    env: environment,
    stdio: ['ignore', 'ignore', 'pipe'],
    encoding: 'utf8',
  });
  if (result.status !== 0) fail(`npm ci failed in ${folder}. Run it by hand to see more.\n${result.stderr ?? ''}`);
  writeFileSync(stamp, lock);
}
