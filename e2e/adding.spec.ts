import { type ChildProcessWithoutNullStreams, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { freePort } from '../engine/testing/ports.ts';
import { applyDocument } from './adding.ts';
import { expect, test } from './application.ts';

const parts = ['app', 'cli', 'core', 'demo', 'engine', 'store', 'scripts', 'ui', 'proxy.ts', 'next-env.d.ts'];
const settings = ['package.json', 'package-lock.json', 'tsconfig.json', 'next.config.ts', 'postcss.config.mjs'];

/** What a process says until it ends. */
async function said(process: ChildProcessWithoutNullStreams): Promise<string> {
  let text = '';
  process.stdout.on('data', (more) => (text += more));
  await once(process, 'close');
  return text;
}

/** What of the web process is left out, as nothing here asks for it and it takes long to build. */
const unasked = new Set(
  ['changes', 'costs', 'explore', 'metrics', 'parsing', 'routing', 'sources', 'page.tsx'].map((name) =>
    join('app', name),
  ),
);
const asked = ['audit', 'course', 'names', 'plan', 'searches', 'sources', 'switches', 'tables'].map((name) =>
  join('app', 'api', name),
);

/** Whether a file or folder goes into the copy. */
function isAsked(path: string): boolean {
  const isRoute = path.startsWith(join('app', 'api', '/'));
  return isRoute ? asked.some((route) => path === route || path.startsWith(join(route, '/'))) : !unasked.has(path);
}

const knownTypes = '.build/tsconfig.tsbuildinfo';

let copy: string;

test.beforeAll(() => {
  mkdirSync('.build', { recursive: true });
  copy = resolve(mkdtempSync(join('.build', 'adding-')));
  for (const part of [...parts, ...settings]) cpSync(part, join(copy, part), { recursive: true, filter: isAsked });
  // What is known of types already need not be found out again.
  mkdirSync(join(copy, '.build'));
  if (existsSync(knownTypes)) cpSync(knownTypes, join(copy, knownTypes));
  // The same packages, without taking their room again.
  spawnSync('cp', ['-al', 'node_modules', join(copy, 'node_modules')]);
  const lock = createHash('sha256').update(readFileSync('package-lock.json')).digest('hex');
  const stamp = join(copy, 'node_modules', '.installed');
  rmSync(stamp, { force: true });
  writeFileSync(stamp, lock);
});

test.afterAll(() => rmSync(copy, { recursive: true, force: true }));

test('what the document adds is compiled, counts events, is a command in the audit, and shows on a screen', async ({
  browser,
}) => {
  test.setTimeout(420_000);
  const touched = applyDocument('docs/adding.md', copy);
  expect(touched.filter((file) => file.includes('consumers/') || file.includes('writers/'))).toHaveLength(4);
  // The types are looked at while it is built and starts.
  const types = said(spawn('node', ['node_modules/typescript/bin/tsc', '-p', '.'], { cwd: copy }));

  const ports = await Promise.all(Array.from({ length: 7 }, freePort));
  const [WEB_PORT, INTAKE_PORT, ENGINE_PORT, SYSLOG_PORT, DB_PORT, SYSLOG_TLS_PORT, OBJECTS_PORT] = ports.map(String);
  const started = spawn('node', ['scripts/launch.mjs', 'start', '--engines', '2'], {
    cwd: copy,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      ...{ WEB_PORT, INTAKE_PORT, ENGINE_PORT, SYSLOG_PORT, DB_PORT, SYSLOG_TLS_PORT, OBJECTS_PORT },
      DATA_DIR: join(copy, '.data'),
    },
  });
  try {
    await new Promise<void>((resolve, reject) => {
      started.stdout.on('data', (text) => String(text).includes('Restless Otter is at') && resolve());
      started.once('exit', () => reject(new Error('It ended before it was ready.')));
    });
    const origin = `http://127.0.0.1:${WEB_PORT}`;
    const context = await browser.newContext({ baseURL: origin, extraHTTPHeaders: { origin } });
    const made = await context.request.post('/api/sources', { data: { name: 'gates', kind: 'http' } });
    const { token } = await made.json();
    // Both engines know the new source within a second, and count together.
    for (const [port, size] of [
      [Number(INTAKE_PORT), 1_000],
      [Number(INTAKE_PORT) + 10, 3_000],
    ] as const) {
      const intake = `http://127.0.0.1:${port}/intake/gates`;
      const send = async (): Promise<number> => {
        const headers = { authorization: `Bearer ${token}` };
        return (await fetch(intake, { method: 'POST', headers, body: 'x'.repeat(size) })).status;
      };
      await expect.poll(send, { timeout: 10_000 }).toBe(200);
    }
    const page = await context.newPage();
    await page.goto('/longest');
    await expect(page.getByRole('listitem').filter({ hasText: 'gates' })).toHaveText('gates: 3 kB');
    await page.getByRole('button', { name: 'Reset' }).click();
    await expect(page.getByRole('listitem').filter({ hasText: 'gates' })).toHaveCount(0);
    const { changes } = await (await context.request.get('/api/audit')).json();
    expect(changes.map(({ command }: { command: string }) => command)).toEqual([
      'DELETE /api/longest',
      'POST /api/sources',
    ]);
    await context.close();
    // What the copy leaves out (tests that are about the whole project) may be missed; nothing that was touched may.
    for (const file of touched) expect(await types).not.toContain(file);
  } finally {
    const ended = once(started, 'exit');
    started.kill('SIGTERM');
    await ended;
  }
});
