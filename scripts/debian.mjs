import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

/** Where the programs stand that the product needs, and the Debian package that brings each. */
const programs = {
  mariadb: { files: ['/usr/sbin/mariadbd', '/usr/bin/mariadbd'], package: 'mariadb-server' },
  chromium: { files: ['/usr/bin/chromium-headless-shell'], package: 'chromium-headless-shell' },
  logger: { files: ['/usr/bin/logger'], package: 'bsdutils' },
  curl: { files: ['/usr/bin/curl'], package: 'curl' },
  nginx: { files: ['/usr/sbin/nginx'], package: 'nginx-light' },
  faketime: { files: ['/usr/bin/faketime'], package: 'faketime' },
  jq: { files: ['/usr/bin/jq'], package: 'jq' },
};

/** @typedef {keyof typeof programs} Program */

/**
 * Path of a program; undefined when it is not installed.
 * @param {Program} name
 */
export function programPath(name) {
  return programs[name].files.find((file) => existsSync(file));
}

/**
 * Installs the programs that are missing with Debian's package tool. Ends the process with one line where it cannot.
 * @param {readonly Program[]} names
 */
export function requirePrograms(names) {
  const missing = names.filter((name) => !programPath(name)).map((name) => programs[name].package);
  if (missing.length === 0) return;
  const root = process.getuid?.() === 0;
  const sudo = root ? [] : ['sudo', '-n'];
  const command = `${root ? '' : 'sudo '}apt-get install ${missing.join(' ')}`;
  if (!existsSync('/usr/bin/apt-get'))
    fail(`These packages are missing and there is no apt-get here: ${missing.join(', ')}.`);
  console.log(`Installing ${missing.join(', ')} with apt-get …`);
  const environment = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const [file = '', ...before] = [...sudo, 'apt-get'];
  const run = (/** @type {readonly string[]} */ args) => {
    return spawnSync(file, [...before, ...args], {
      env: environment,
      stdio: ['ignore', 'ignore', 'pipe'],
      encoding: 'utf8',
    });
  };
  run(['update', '-q']);
  const result = run(['install', '-y', '-q', '--no-install-recommends', ...missing]);
  if (result.status !== 0 || names.some((name) => !programPath(name))) {
    fail(`Could not install ${missing.join(', ')}. Run this and start again: ${command}\n${result.stderr ?? ''}`);
  }
}

/**
 * Says what is wrong and ends the process.
 * @param {string} message
 * @returns {never}
 */
export function fail(message) {
  console.error(message.trim());
  process.exit(1);
}
