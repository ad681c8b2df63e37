import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { SeverityNumber } from '@opentelemetry/api-logs';
import { OTLPLogExporter } from '@opentelemetry/exporter-logs-otlp-proto';
import { resourceFromAttributes } from '@opentelemetry/resources';
import { LoggerProvider, SimpleLogRecordProcessor } from '@opentelemetry/sdk-logs';
import type { APIRequestContext, Page } from '@playwright/test';
import { expect, test } from './installations/application.ts';
import { installation } from './installations/installations.ts';
import { startNginx } from './installations/nginx.ts';
import { addToDraft, publishDraft } from './pages/draft.ts';
import { panelOf } from './pages/panel.ts';

/** Fills in the set-up of a new source and waits until it waits for its first event; returns the text to paste. */
async function connect(
  page: Page,
  kind: string,
  name: string,
  fill: (panel: ReturnType<Page['getByRole']>) => Promise<void> = async () => {},
): Promise<string> {
  await page.goto('/sources?connect=1');
  const panel = panelOf(page, 'Connect a source');
  await panel.getByRole('radio', { name: new RegExp(`^${kind} `) }).check();
  await panel.getByLabel('Name', { exact: true }).fill(name);
  await panel.getByLabel('Labels', { exact: true }).fill('site=wharf');
  await fill(panel);
  await panel.getByRole('button', { name: 'Create source' }).click();
  await expect(panel.getByText('Waiting for the first event')).toBeVisible();
  const pasted = ['HTTP', 'OTLP/HTTP', 'Syslog'].includes(kind);
  return pasted ? ((await panel.locator('pre').textContent()) ?? '') : '';
}

async function arrived(page: Page, text: string): Promise<void> {
  const panel = panelOf(page, 'Connect a source');
  await expect(panel.getByText('First events received')).toBeVisible({ timeout: 20_000 });
  await expect(panel.getByText(text).first()).toBeVisible();
}

async function search(
  request: APIRequestContext,
  condition: string,
): Promise<{ total: number; events: { attributes: Record<string, unknown>; severity: number; body: string }[] }> {
  const answer = await request.post('/api/search', {
    data: { condition, from: '-7d', to: 'now', limit: 10, buckets: 0 },
  });
  return await answer.json();
}

/** Uses the kit that is offered for the first events and publishes it. */
async function takeKit(page: Page): Promise<void> {
  await addToDraft(page);
  await publishDraft(page, 'A starter kit');
}

test('HTTP, with curl as the panel says', async ({ page, request }) => {
  const command = await connect(page, 'HTTP', 'ticket-printer');
  execFileSync('bash', ['-c', command.replace('"first event"', '"paper is low"')]);
  await arrived(page, 'paper is low');
  await expect(page.getByText('JSON lines', { exact: true })).toBeVisible();
  expect((await search(request, 'source = ticket-printer')).events[0]).toMatchObject({
    severity: 9,
    body: 'paper is low',
  });
});

test('OTLP/HTTP, with an OpenTelemetry SDK exporter', async ({ page, request }) => {
  const settings = await connect(page, 'OTLP/HTTP', 'wheelhouse');
  const url = /ENDPOINT=(\S+)/.exec(settings)?.[1] ?? '';
  const token = /Bearer ([^"]+)/.exec(settings)?.[1] ?? '';
  const exporter = new OTLPLogExporter({ url, headers: { authorization: `Bearer ${token}` } });
  const provider = new LoggerProvider({
    resource: resourceFromAttributes({ 'host.name': 'kittiwake' }),
    processors: [new SimpleLogRecordProcessor(exporter)],
  });
  provider
    .getLogger('bridge')
    .emit({ severityNumber: SeverityNumber.WARN, body: 'rough sea', attributes: { speed: 12.5 } });
  await provider.shutdown();
  await arrived(page, 'rough sea');
  expect((await search(request, 'source = wheelhouse')).events[0]?.attributes).toMatchObject({ speed: 12.5 });
});

test('syslog, with logger; tokens, labels, masks and the silence of a source are in its page', async ({
  page,
  request,
}) => {
  const command = await connect(page, 'Syslog', 'harbour-bell');
  execFileSync('bash', ['-c', command]);
  await arrived(page, 'first event');
  expect((await search(request, 'source = harbour-bell')).total).toBeGreaterThan(0);
  await page.goto('/sources/harbour-bell');
  await page.getByRole('button', { name: /^How to mask it/ }).click();
  await page.getByRole('option', { name: 'remove', exact: true }).click();
  await page.getByRole('button', { name: 'Mask', exact: true }).click();
  await expect(page.getByText('Card numbers · remove')).toBeVisible();
  execFileSync('bash', ['-c', command.replace('first event', 'paid by 4000001234567899')]);
  await expect(async () =>
    expect((await search(request, 'source = harbour-bell paid')).events[0]?.body).toBe('paid by •••'),
  ).toPass({ timeout: 15_000 });
  await page.getByRole('button', { name: /Retire source/ }).click();
  await expect(page.getByText('retired', { exact: false }).first()).toBeVisible({ timeout: 20_000 });
});

test('a token is rotated with an overlap and revoked', async ({ page, request }) => {
  const command = await connect(page, 'HTTP', 'ferry-bell');
  const old = /Bearer ([^"]+)/.exec(command)?.[1] ?? '';
  const post = (token: string) =>
    request.post(`${installation().intake}/intake/ferry-bell`, {
      headers: { authorization: `Bearer ${token}` },
      data: '{"msg":"ding"}',
    });
  await page.goto('/sources/ferry-bell');
  await page.getByRole('button', { name: 'Rotate' }).click();
  await expect(page.getByText('The new token is in the command above')).toBeVisible();
  const fresh = /Bearer ([^"]+)/.exec((await page.locator('pre').textContent()) ?? '')?.[1] ?? '';
  expect(fresh).not.toBe(old);
  expect((await post(old)).status()).toBe(200);
  expect((await post(fresh)).status()).toBe(200);
  const row = page.getByRole('listitem').filter({ hasText: `token …${old.slice(-4)}` });
  await expect(row).toContainText('ends');
  await row.getByRole('button', { name: 'Revoke' }).click();
  await expect(row).toBeHidden();
  expect((await post(old)).status()).toBe(401);
  expect((await post(fresh)).status()).toBe(200);
});

test('a followed file that nginx writes, with the starter kit that fits', async ({ page, request }) => {
  test.setTimeout(90_000);
  const nginx = await startNginx(join(installation().files, 'nginx-file'), '1');
  try {
    await connect(page, 'Followed files', 'wharf-web', (panel) =>
      panel.getByLabel('Files, one pattern per line').fill(`${nginx.log}*`),
    );
    for (let i = 0; i < 5; i++) await fetch(`${nginx.url}/pier?day=${i}`);
    await arrived(page, 'GET /pier');
    await expect(page.getByText('Web access lines', { exact: true })).toBeVisible();
    await takeKit(page);
    await fetch(`${nginx.url}/gone`);
    await expect(async () => {
      const { events } = await search(request, 'source = wharf-web status = 404');
      expect(events[0]).toMatchObject({
        severity: 13,
        body: 'GET /gone → 404',
        attributes: { method: 'GET', client: '127.0.0.1' },
      });
    }).toPass({ timeout: 20_000 });
  } finally {
    nginx.stop();
  }
});

test('nginx over syslog', async ({ page, request }) => {
  test.setTimeout(90_000);
  await connect(page, 'Syslog', 'wharf-syslog', (panel) =>
    panel.getByLabel('Messages of this source').fill('app = wharf_web'),
  );
  const nginx = await startNginx(join(installation().files, 'nginx-syslog'), installation().syslogPort);
  try {
    for (let i = 0; i < 5; i++) await fetch(`${nginx.url}/quay`);
    await arrived(page, 'GET /quay');
    await expect(async () =>
      expect((await search(request, 'source = wharf-syslog "GET /quay"')).total).toBeGreaterThan(0),
    ).toPass({ timeout: 20_000 });
  } finally {
    nginx.stop();
  }
});

test('the secrets of the installation are read by no source, and the form says which folders are', async ({
  page,
  request,
}) => {
  const secrets = installation().data;
  for (const settings of [{ globs: [join(secrets, '*password')] }, { url: `file://${secrets}` }]) {
    const kind = 'globs' in settings ? 'files' : 'objects';
    const answer = await request.post('/api/sources', { data: { name: 'spy', kind, settings } });
    expect([answer.status(), (await answer.json()).detail]).toEqual([
      400,
      expect.stringContaining(`below ${installation().files}`),
    ]);
  }
  await page.goto('/sources?connect=1&kind=files');
  await expect(page.getByText(`Files can be read below ${installation().files}.`)).toBeVisible();
});

test('picked-up objects from a folder, labelled from their names', async ({ page, request }) => {
  const folder = join(installation().files, 'drop');
  await connect(page, 'Picked-up objects', 'cargo-lists', async (panel) => {
    await panel.getByLabel('Address of the list').fill(`file://${folder}`);
    await panel.getByLabel('Template of object names, for labels').fill('{vessel}/{}.csv.gz');
  });
  mkdirSync(join(folder, 'kittiwake'), { recursive: true });
  writeFileSync(join(folder, 'kittiwake', 'list.csv.gz'), gzipSync('item,weight\ncars,1500\nmail,12\n'));
  await arrived(page, 'cars');
  const { events, total } = await search(request, 'source = cargo-lists weight > 100');
  expect(total).toBe(1);
  expect(events[0]?.attributes).toMatchObject({ item: 'cars', weight: 1500, vessel: 'kittiwake' });
});

test('an uploaded sample', async ({ page, request }) => {
  await connect(page, 'Uploaded sample', 'old-log');
  await page.getByLabel(/A file of lines/).setInputFiles({
    name: 'old.log',
    mimeType: 'text/plain',
    buffer: Buffer.from(`${new Date(Date.now() - 3_600_000).toISOString()} INFO mooring - berth 3 is free\n`.repeat(4)),
  });
  await arrived(page, 'berth 3 is free');
  expect((await search(request, 'source = old-log')).total).toBe(4);
});

test('fleets can be used in conditions, and maintenance keeps a source from being silent', async ({
  page,
  request,
}) => {
  await page.goto('/sources?panel=fleets');
  const fleets = panelOf(page, 'Fleets');
  await fleets.getByLabel('Name').fill('sea');
  await fleets.getByLabel('Labels').fill('site = sea');
  await fleets.getByRole('button', { name: 'Save fleet' }).click();
  await expect(fleets.getByText('site = sea')).toBeVisible();
  await expect(async () => {
    const found = await search(request, 'fleet = sea');
    expect(found.total).toBeGreaterThan(0);
  }).toPass({ timeout: 10_000 });
  await page.goto('/sources?panel=maintenance');
  const panel = panelOf(page, 'Maintenance');
  await panel.getByLabel('Reason').fill('New scanners on Pier 4');
  await panel.getByLabel('Who').fill('source = gates emitter = gate-p4-*');
  await panel.getByLabel('From', { exact: true }).fill(`${new Date().getFullYear()}-01-01T00:00`);
  await panel.getByLabel('For', { exact: true }).fill('9000h');
  await panel.getByRole('button', { name: 'Announce' }).click();
  await expect(panel.getByText('New scanners on Pier 4')).toBeVisible();
  await expect(async () => {
    const health = await (await request.get('/api/health?source=gates')).json();
    const states = health.followed
      .filter(({ emitter }: { emitter: string }) => emitter.startsWith('gate-p4'))
      .map((view: { health: { state: string } }) => view.health.state);
    expect(new Set(states)).toEqual(new Set(['maintenance']));
  }).toPass({ timeout: 20_000 });
  await panel.getByRole('button', { name: 'Remove' }).click();
});
