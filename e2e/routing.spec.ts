import type { APIRequestContext, Page } from '@playwright/test';
import { expect, test } from './installations/application.ts';
import { addToDraft, draftStrip, publishDraft } from './pages/draft.ts';
import { panelOf } from './pages/panel.ts';

/** Bytes in a text such as `saves 11.9 MB a day`. */
function bytesIn(text: string): number {
  const [, number = '', unit = ''] = /([\d.]+) ([kMG]?)B/.exec(text) ?? [];
  return Number(number) * ({ k: 1e3, M: 1e6, G: 1e9 }[unit] ?? 1);
}

const shapes = '/explore?view=shapes&w=-1d';
const strip = (page: Page) => draftStrip(page);

/** How many events of the planner that arrived since a time each tier has. */
async function plannerByTier(request: APIRequestContext, since: number): Promise<ReadonlyMap<string, number>> {
  const condition = `source = berth-planner received >= ${new Date(since).toISOString()}`;
  const data = { condition, show: 'count() by tier', from: since - 3_600_000, to: 'now', limit: 0, buckets: 0 };
  const { summary } = await (await request.post('/api/search', { data })).json();
  return new Map(summary.rows);
}

test('of the largest shape none is kept: the saving is shown, rehearsed, published and measured; then all again', async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await page.goto(shapes);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(
    /of lines are \d+ shapes; three of them are \d+ %/,
  );
  const largest = page.getByRole('list', { name: 'Shapes' }).getByRole('listitem').first();
  await expect(largest).toContainText('msg="candidate scored"');
  await largest.getByRole('button').click();
  const panel = panelOf(page, 'Shape');
  await expect(panel).toContainText('A shape of berth-planner');
  await expect(panel.getByText('2 values · planner-')).toBeVisible();
  await expect(panel).toContainText('Pipeline “Berth planner”');
  await panel.getByRole('radio', { name: 'none' }).click();
  const reported = panel.getByRole('status');
  await expect(reported).toContainText(/saves \d.* a day/);
  const saving = bytesIn((await reported.textContent()) ?? '');
  expect(saving).toBeGreaterThan(5e6);
  await addToDraft(panel);
  await expect(strip(page)).toContainText('1 change');
  await expect(panel.getByRole('button', { name: 'Add to draft' })).toBeDisabled();

  await strip(page).getByRole('button', { name: 'Rehearse' }).click();
  const rehearsal = panelOf(page, 'Rehearsal');
  await expect(rehearsal).toBeVisible({ timeout: 90_000 });
  const sentence = await rehearsal.locator('p').first().textContent();
  const margin = bytesIn(/±(.*)a day/.exec(sentence ?? '')?.[1] ?? '');
  expect(Math.abs(bytesIn(sentence ?? '') - saving)).toBeLessThan(3 * margin + 0.05 * saving);
  await publishDraft(page, 'Candidates of the planner are read by nobody');

  // A group may have begun under the plan before.
  const live = Date.now() + 1_000;
  await expect(async () => {
    const tiers = await plannerByTier(request, live);
    const [excluded = 0, kept = 0] = [tiers.get('passing'), tiers.get('bookings')];
    const arrived = excluded + kept;
    expect(arrived).toBeGreaterThan(20);
    // Nine of ten lines of the planner are of this shape; four standard errors of so small a sample.
    expect(excluded / arrived).toBeGreaterThan(0.9 - 4 * Math.sqrt(0.09 / arrived));
  }).toPass({ timeout: 120_000 });

  await page.getByRole('link', { name: /^Routing/ }).click();
  // The exclusion is new, so its figure is not given per day.
  await expect(page.getByText(/− [\d.]+ k?B since .* \d\d:\d\d/).first()).toBeVisible({ timeout: 30_000 });
  const row = page.getByRole('radiogroup', { name: /How much of berth-planner: ts=/ });
  await row.getByRole('radio', { name: 'all' }).click();
  await expect(strip(page)).toContainText('1 change');
  await publishDraft(page, 'All of them again');
  await expect(page.getByText(/off; dropping all would save/).first()).toBeVisible({ timeout: 30_000 });
});

test('shapes: a condition narrows them, its lines are shown, one is wanted, two are compared, the list is by address', async ({
  page,
}) => {
  await page.goto(`${shapes}&c=source%20%3D%20payments`);
  const list = page.getByRole('list', { name: 'Shapes' });
  await expect(list.getByRole('listitem').first()).toContainText('payments');
  await expect(list).not.toContainText('berth-planner');
  const two = list.getByRole('checkbox');
  await two.nth(0).check();
  await two.nth(1).check();
  await expect(page.getByRole('img', { name: /Chosen shapes over time/ })).toBeVisible();
  await page.reload();
  await expect(list.getByRole('checkbox').nth(1)).toBeChecked();
  await list.getByRole('listitem').first().getByRole('button').click();
  const panel = panelOf(page, 'Shape');
  const wanted = panel.getByRole('button', { name: /as wanted/ });
  await wanted.click();
  await expect(wanted).toHaveAttribute('aria-pressed', 'true');
  await wanted.click();
  await expect(wanted).toHaveAttribute('aria-pressed', 'false');
  await panel.getByRole('button', { name: 'Show lines' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/events in 1 d/, { timeout: 20_000 });
  const lines = page.locator('button[aria-expanded]').filter({ hasText: 'payments' });
  await expect(lines.first()).toContainText('pay[');
  await page.goBack();
  await expect(list).toBeVisible();
  // A condition beyond what is counted is asked about what is stored.
  await page.goto(`${shapes}&c=status%20%3E%3D%20500`);
  await expect(page.getByText(/stored events only/)).toBeVisible({ timeout: 20_000 });
});

test('a tier that is put above another one shows what it takes from it, before and after; published, and brought back', async ({
  page,
}) => {
  test.setTimeout(120_000);
  await page.goto('/routing');
  const rest = page.locator('#rest');
  await expect(rest).toContainText(/\d\d % of matching events are taken by Bookings and harbour, above/, {
    timeout: 20_000,
  });
  await page.getByRole('button', { name: 'Move Everything else up' }).click();
  await expect(strip(page)).toContainText('1 change');
  const bookings = page.locator('#bookings');
  await expect(bookings).toContainText(
    /[\d.]+ % of matching events would be taken by Everything else, above \(0 % now\)/,
    {
      timeout: 20_000,
    },
  );
  await expect(bookings).toContainText('No events reach this tier');
  await expect(rest).toContainText(
    /0 % of matching events would be taken by Bookings and harbour, above \(\d\d % now\)/,
  );
  await publishDraft(page, 'Everything else first, for a moment');
  await expect(bookings).toContainText(/[\d.]+ % of matching events are taken by Everything else, above/, {
    timeout: 20_000,
  });
  await page.getByRole('button', { name: 'Move Everything else down' }).click();
  await expect(strip(page)).toContainText('1 change');
  await publishDraft(page, 'The order as it was');
  await expect(rest).toContainText(/\d\d % of matching events are taken by Bookings and harbour, above/, {
    timeout: 20_000,
  });
});

test('a cap that today has met already sends events another way, and says so; it is brought back', async ({ page }) => {
  test.setTimeout(120_000);
  await page.goto('/routing?tier=bookings');
  const bookings = page.locator('#bookings');
  await expect(bookings).toContainText(/of today’s 87 MB: [\d.]+ %; not expected to be met today/, { timeout: 20_000 });
  const form = page.getByRole('form', { name: 'Tier Bookings and harbour' });
  await form.getByLabel('Daily cap').fill('plenty');
  await expect(form.getByText(/An amount such as 2 GB/).first()).toBeVisible();
  await form.getByLabel('Daily cap').fill('10 events');
  await form.getByRole('button', { name: 'Events past the cap go' }).click();
  await page.getByRole('option', { name: /let it pass/ }).click();
  await addToDraft(form);
  await expect(strip(page)).toContainText('1 change');
  await publishDraft(page, 'Next to nothing of bookings');
  await expect(bookings).toContainText(/◆ met: \d+ events .* overflowed/, { timeout: 60_000 });
  await page.getByRole('button', { name: 'Bookings and harbour', exact: true }).click();
  const past = page.getByRole('region', { name: 'Past the cap today' });
  await expect(past.getByRole('listitem').first()).toBeVisible();
  await past.getByRole('link', { name: 'Show lines' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/events in 1 d/, { timeout: 20_000 });
  await expect(page.getByRole('region', { name: 'Found events' }).getByRole('listitem').first()).toBeVisible();

  await page.goto('/routing?tier=bookings');
  await form.getByRole('button', { name: 'Cap at' }).click();
  await form.getByRole('button', { name: 'Events past the cap go' }).click();
  await page.getByRole('option', { name: /a fair sample/ }).click();
  await addToDraft(form);
  await publishDraft(page, 'All of bookings again');
});

test('Storm watch is switched on with a reason, seen on every screen, and gone by itself', async ({
  page,
  request,
}) => {
  await page.goto('/routing');
  const posture = page.locator('#posture-storm-watch');
  await expect(posture).toContainText('all exclusions keep all');
  await posture.getByRole('button', { name: 'For' }).click();
  await page.getByRole('option', { name: '2 minutes' }).click();
  await posture.getByLabel('Why').fill('gale warning');
  await posture.getByRole('button', { name: 'Switch Storm watch on' }).click();
  const strips = page.getByRole('status').filter({ hasText: 'Storm watch is on until' });
  await expect(strips).toContainText('gale warning');
  await expect(strips).toContainText(/left/);
  for (const path of ['/', '/sources', '/parsing', '/explore', '/changes']) {
    await page.goto(path);
    await expect(strips).toBeVisible();
  }
  const since = Date.now();
  // By one request it is on for a few seconds more, and ends without anyone.
  const on = await request.put('/api/postures/storm-watch', {
    data: { on: true, for: '8s', reason: 'until the test is over' },
  });
  expect(on.ok()).toBe(true);
  await expect(strips).toContainText('until the test is over');
  await expect(strips).toBeHidden({ timeout: 15_000 });
  expect(Date.now() - since).toBeGreaterThan(5_000);
  const { postures } = await (await request.get('/api/switches')).json();
  expect(postures[0].on).toBeNull();
  const unknown = await request.put('/api/postures/nothing', { data: { on: true } });
  expect(unknown.status()).toBe(404);
});

test('a program switches with a token that may do only that, until the token is ended', async ({
  page,
  playwright,
  baseURL,
}) => {
  await page.goto('/routing');
  await page.getByRole('button', { name: /Tokens for switching/ }).click();
  await page.getByLabel('Name of the program').fill('storm warning');
  await page.getByRole('button', { name: 'Create token' }).click();
  const reported = page.getByRole('status').filter({ hasText: 'shown only once' });
  const token = /Bearer (otter_switch_\S+?)'/.exec((await reported.textContent()) ?? '')?.[1] ?? '';
  // As a program asks: without an origin.
  const authorization = `Bearer ${token}`;
  const program = await playwright.request.newContext({ baseURL: baseURL ?? '', extraHTTPHeaders: { authorization } });
  const on = await program.put('/api/exclusions/rest/learned', { data: { keep: 'all', for: '1h' } });
  expect(on.status()).toBe(200);
  expect((await program.delete('/api/exclusions/rest/learned')).status()).toBe(200);
  expect((await program.get('/api/plan')).status()).toBe(403);
  expect((await program.delete('/api/plan/draft')).status()).toBe(403);
  const { changes } = await (await page.request.get('/api/audit')).json();
  expect(changes[0]).toMatchObject({ who: 'storm warning', command: 'DELETE /api/exclusions/{tier}/{exclusion}' });
  await page.getByRole('listitem').filter({ hasText: 'storm warning' }).getByRole('button', { name: 'Revoke' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'storm warning' })).toHaveCount(0);
  expect((await program.put('/api/exclusions/rest/learned', { data: { keep: 'all' } })).status()).toBe(401);
  await program.dispose();
});

test('an exclusion keeps something else for a while by one request, and is switched back', async ({
  page,
  request,
}) => {
  const path = '/api/exclusions/rest/learned';
  expect((await request.put(path, { data: { keep: 'some' } })).status()).toBe(400);
  expect((await request.put(path, { data: { keep: '1 in 50', for: '2h', reason: 'to see' } })).ok()).toBe(true);
  await page.goto('/routing');
  const rest = page.locator('#rest');
  await expect(rest).toContainText('keeps 1 in 50 until');
  await rest.getByRole('button', { name: 'Switch back' }).click();
  await expect(rest).not.toContainText('keeps 1 in 50 until');
});

test("a temporary override on an exclusion's row shows its cost beforehand", async ({ page }) => {
  await page.goto('/routing');
  await page.getByRole('button', { name: 'Keep all of Learned addresses for a while' }).click();
  const form = page.getByRole('form', { name: 'Keep all of Learned addresses for a while' });
  await expect(form).toContainText(/keeps ≈ [\d.]+ k?B, [\d,]+ events? more by its end/);
  const hour = await form.textContent();
  await form.getByRole('button', { name: /^For/ }).click();
  await page.getByRole('option', { name: '1 day' }).click();
  await expect(form).not.toHaveText(hour ?? '');
  await form.getByLabel('Why').fill('who moves between the piers');
  await form.getByRole('button', { name: 'Keep all' }).click();
  const row = page.getByText(/keeps all until/);
  await expect(row).toBeVisible();
  await page.getByRole('button', { name: 'Switch back' }).click();
  await expect(row).toBeHidden();
});
