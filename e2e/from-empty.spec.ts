import type { Page } from '@playwright/test';
import { day, minute } from '#core/events/time-units.ts';
import { test as base, expect } from './installations/application.ts';
import { type MovingApplication, startMoving } from './installations/moving-application.ts';
import { publishDraft } from './pages/draft.ts';
import { editorOf } from './pages/editor.ts';
import { disagreements, figuresOf, type ShownFigure } from './pages/figures.ts';
import { panelOf } from './pages/panel.ts';

const screens = [
  '/',
  '/sources',
  '/sources/swell',
  '/parsing',
  '/routing',
  '/metrics',
  '/explore?w=-2h',
  '/costs',
  '/changes',
];

const test = base.extend<object, { application: MovingApplication }>({
  application: [
    // biome-ignore lint/correctness/noEmptyPattern: the test runner reads the names out of this pattern
    async ({}, use) => {
      const application = await startMoving();
      await use(application);
      await application.stop();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: async ({ application }, use) => {
    await use(application.url);
  },
});

const lines = (from: number, every: number, count: number): string =>
  Array.from({ length: count }, (_, i) => {
    const time = new Date(from + i * every).toISOString();
    return `{"time":"${time}","msg":"buoy ${(i * 31) % 97} rides ${(i * 17) % 89} waves"}`;
  }).join('\n');

async function read(page: Page, of: readonly string[]): Promise<readonly ShownFigure[]> {
  const figures: ShownFigure[] = [];
  for (const screen of of) figures.push(...(await figuresOf(page, screen)));
  return figures;
}

test.describe.configure({ mode: 'serial' });

test('on an empty installation all screens agree that there is nothing', async ({ page }) => {
  test.setTimeout(120_000);
  const empty = await read(
    page,
    screens.filter((screen) => screen !== '/sources/swell'),
  );
  expect(disagreements(empty, 0)).toEqual([]);
  expect(empty.filter(({ name, value }) => name === 'received' && value !== 0)).toEqual([]);
});

test('the demo data is loaded and removed with a click each', async ({ page, request }) => {
  test.setTimeout(180_000);
  await page.goto('/');
  await page.getByRole('button', { name: 'Load the demo data' }).click();
  const strip = page.getByRole('status').filter({ hasText: 'demo data' });
  await expect(strip).toContainText('The events of the Skerry Line are demo data.', { timeout: 90_000 });
  await page.goto('/sources');
  await expect(page.getByRole('row').filter({ hasText: 'berth-planner' })).toBeVisible();
  await page.goto('/');
  await page.getByRole('button', { name: 'Remove demo data …' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove demo data' }).click();
  await expect(page.getByRole('button', { name: 'Load the demo data' })).toBeVisible({ timeout: 90_000 });
  const { sources } = await (await request.get('/api/sources')).json();
  expect(sources).toEqual([]);
});

test('from nothing to a published exclusion, by what the screens offer', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto('/');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('No events in the last 24 h');
  await expect(page.getByRole('region', { name: 'Follow a log of this machine' })).toBeVisible();
  const way = page.getByRole('region', { name: 'Send from an application' });
  await way.getByRole('button', { name: 'Create source and token' }).click();
  await expect(way).toContainText('Waiting for the first event');
  const command = (await way.locator('pre').textContent()) ?? '';
  const [, url = ''] = /curl (\S+)/.exec(command) ?? [];
  const [, token = ''] = /Bearer ([^"]+)/.exec(command) ?? [];
  const log = Array.from({ length: 40 }, (_, i) => [
    `2026-11-30 09:1${i % 10}:02 INFO berth ${i} is free`,
    `2026-11-30 09:1${i % 10}:03 ERROR berth ${i} is taken`,
    'java.lang.IllegalStateException: taken',
    '\tat fleet.Berths.assign(Berths.java:214)',
  ]).flat();
  const answer = await fetch(url, {
    method: 'POST',
    headers: { authorization: `Bearer ${token}` },
    body: log.join('\n'),
  });
  expect(answer.status).toBe(200);
  await expect(way).toContainText('First events received', { timeout: 5_000 });
  const joined = way.getByRole('note', { name: 'Multi-line records' });
  await expect(joined).toContainText('begin with a date and time');
  await joined.getByRole('button', { name: 'Join lines from now on' }).click();
  await expect(joined).toBeHidden();

  await page.reload();
  const steps = page.locator('section').filter({ hasText: 'Next steps' });
  await steps.getByRole('link', { name: 'Add a tier by worth' }).click();
  await page.getByRole('button', { name: 'Everything', exact: true }).click();
  const panel = panelOf(page, 'Everything');
  const form = panel.getByRole('form', { name: /exclusion/ });
  await form.getByLabel('Title').fill('Free berths');
  await editorOf(form, 'Events to exclude').click();
  await page.keyboard.insertText('"is free"');
  await page.keyboard.press('Escape');
  await form.getByRole('button', { name: 'Add exclusion' }).click();
  await publishDraft(page, 'Free berths are no news');
  await page.getByRole('link', { name: /^Overview/ }).click();
  await expect(steps.getByText('Exclude noise or create a metric (done)')).toBeVisible();
});

test('in the first minutes of a month, and with 500 events a second, all screens agree', async ({
  application,
  page,
  request,
}) => {
  test.setTimeout(240_000);
  expect((await request.post('/api/sources', { data: { name: 'swell', kind: 'http' } })).status()).toBe(201);
  expect((await request.put('/api/prices', { data: { text: prices } })).status()).toBe(200);
  const token = await application.historyToken('swell');
  const send = async (body: string): Promise<number> => {
    const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/x-ndjson' };
    return (await fetch(`${application.intake}/intake/swell`, { method: 'POST', headers, body })).status;
  };

  // Two minutes past midnight, on the first of a month: the day and the month are young, the last 24 hours are not.
  const now = new Date();
  const first = Date.UTC(now.getUTCFullYear(), now.getUTCMonth() + 1, 1) + 2 * minute;
  application.moveBy(first - Date.now());
  for (let start = first - 9 * day; start < first; start += day)
    await expect.poll(() => send(lines(start, 2 * minute, 700))).toBe(200);
  const young = await read(page, screens);
  // Nine days of events arrived within a minute: their rate falls, and the oldest expire, while the screens are read.
  expect(disagreements(young, 0.02, { rate: 0.9, 'stored events': 0.1 })).toEqual([]);
  const received = young.filter(({ key }) => key === 'received |  | last 24 h | bytes').map(({ value }) => value);
  expect(Math.min(...received)).toBeGreaterThan(30_000);

  let sending = true;
  const load = (async () => {
    while (sending) {
      await send(lines(Date.now() + (first - now.getTime()), 1, 250));
      await page.waitForTimeout(500);
    }
  })();
  const parsed: string[] = [];
  for (const screen of screens) {
    // What is on one screen is asked for within seconds; so is what it may differ by.
    const found = disagreements(await figuresOf(page, screen), 0.5, { parsed: 0.05, kept: 0.05, rate: 0.9 });
    parsed.push(...found);
  }
  sending = false;
  await load;
  expect(parsed).toEqual([]);
});

const prices = `prices: 1
currency: { sign: cr, digits: 2 }
entries:
  - from: 2020-01-01
    received: 900000
    stored: 90000000
`;
