import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { Page } from '@playwright/test';
import { freeApplicationPorts } from '../engine/testing/ports.ts';
import { applyDocument } from './adding.ts';
import { expect, test } from './installations/application.ts';
import { typeFaults } from './pages/type-faults.ts';

const parts = ['app', 'cli', 'core', 'demo', 'engine', 'store', 'scripts', 'ui', 'proxy.ts', 'next-env.d.ts'];
const settings = ['package.json', 'package-lock.json', 'tsconfig.json', 'next.config.ts', 'postcss.config.mjs'];

/** What of the web process is left out, as nothing here asks for it and it takes long to build. */
const unasked = new Set(
  ['changes', 'costs', 'explore', 'metrics', 'parsing', 'routing', 'page.tsx'].map((name) => join('app', name)),
);

/** Leaves the screens of the stages out of the build; the line of stages imports all of them. */
function leaveOutScreens(root: string): void {
  const line = join(root, 'ui/frame/navigation.tsx');
  const text = readFileSync(line, 'utf8');
  writeFileSync(line, text.replace(/import\('\.\.\/stages\/[^']+'\)/g, 'Promise.resolve()'));
}

/** Whether a file or folder goes into the copy. */
function isAsked(path: string): boolean {
  return !unasked.has(path);
}

let copy: string;

test.beforeAll(() => {
  mkdirSync('.build', { recursive: true });
  copy = resolve(mkdtempSync(join('.build', 'adding-')));
  for (const part of [...parts, ...settings]) cpSync(part, join(copy, part), { recursive: true, filter: isAsked });
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
  expect(spawnSync('node', ['scripts/answers.mjs'], { cwd: copy, stdio: 'inherit' }).status).toBe(0);
  leaveOutScreens(copy);

  const ports = await freeApplicationPorts(2);
  const started = spawn('node', ['scripts/launch.mjs', 'start', '--engines', '2'], {
    cwd: copy,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: {
      ...process.env,
      ...ports,
      DATA_DIR: join(copy, '.data'),
    },
  });
  // Types are checked while the application is built and starts.
  const faults = typeFaults(copy, touched);
  const exit = once(started, 'exit');
  try {
    await new Promise<void>((resolve, reject) => {
      let output = '';
      started.stdout.on('data', (text) => {
        output += text;
        if (output.includes('Restless Otter is at')) resolve();
      });
      exit.then(() => reject(new Error(`It ended before it was ready:\n${output}`)), reject);
    });
    const origin = `http://127.0.0.1:${ports.WEB_PORT}`;
    const context = await browser.newContext({ baseURL: origin, extraHTTPHeaders: { origin } });
    const made = await context.request.post('/api/sources', { data: { name: 'gates', kind: 'http' } });
    const { token } = await made.json();
    // Both engines know the new source within a second, and count together.
    for (const [port, size] of [
      [Number(ports.INTAKE_PORT), 1_000],
      [Number(ports.INTAKE_PORT) + 10, 3_000],
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
    await expectNote(page);
    const { changes } = await (await context.request.get('/api/audit')).json();
    expect(changes.map(({ command }: { command: string }) => command)).toEqual([
      'POST /api/plan/draft/publish',
      'PUT /api/plan/draft',
      'PUT /api/plan/draft',
      'DELETE /api/longest',
      'POST /api/sources',
    ]);
    await context.close();
    expect(await faults).toEqual([]);
  } finally {
    started.kill('SIGTERM');
    await exit;
  }
});

/** A note is refused, drafted, published, found by its title, and shown on the page of its source. */
async function expectNote(page: Page): Promise<void> {
  const { request } = page;
  const { plan } = await (await request.get('/api/plan')).json();
  const draft = async (until: string, version: number): Promise<{ version: number; problems: readonly object[] }> => {
    const note = { id: 'firmware', title: 'Firmware 6.2 since Monday', source: 'gates', until };
    const data = { plan: { ...plan, notes: [note] }, version };
    return await (await request.put('/api/plan/draft', { data })).json();
  };
  const { version, problems } = await draft('whenever', 0);
  expect(problems).toMatchObject([{ path: 'notes[0].until' }]);
  await draft('2040-01-01T00:00:00Z', version);
  await request.post('/api/plan/draft/publish', { data: { note: 'A note on the gates' } });
  const { revisions } = await (await request.get('/api/plan/revisions')).json();
  expect(revisions[0].changes).toMatchObject([{ text: 'note “Firmware 6.2 since Monday” is new' }]);
  await page.goto('/sources/gates');
  await expect(page.getByRole('listitem').filter({ hasText: 'Firmware 6.2' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByLabel('Where to').fill('firmware');
  await expect(page.getByRole('option')).toHaveText(/Firmware 6.2 since Monday\s*note/);
}
