import type { APIRequestContext } from '@playwright/test';
import { expect, test } from './installations/application.ts';
import { installation } from './installations/installations.ts';
import { addToDraft, discardDraft, draftStrip, publishDraft } from './pages/draft.ts';
import { editorOf } from './pages/editor.ts';
import { rowOf, tableOf } from './pages/table.ts';

/** A source of its own, and what sends lines to it. */
async function newSource(
  request: APIRequestContext,
  name: string,
): Promise<(lines: readonly string[]) => Promise<void>> {
  const added = await request.post('/api/sources', { data: { name, kind: 'http' } });
  expect(added.status()).toBe(201);
  const { token } = await added.json();
  const headers = { authorization: `Bearer ${token}` };
  const url = `${installation().intake}/intake/${name}`;
  return async (lines) => {
    await expect
      .poll(async () => (await fetch(url, { method: 'POST', headers, body: lines.join('\n') })).status)
      .toBe(200);
  };
}

/** How many events a condition finds in the last hour. */
async function found(request: APIRequestContext, condition: string): Promise<number> {
  const data = { condition, from: '-1h', to: 'now', tiers: ['incidents', 'bookings', 'rest'] };
  return (await (await request.post('/api/search', { data })).json()).total;
}

const lines = (from: number, count: number): readonly string[] =>
  Array.from({ length: count }, (_, i) => `crane ${(from + i) % 3} lifted crate ${from + i}`);

test('from a shape to a metric; its lines are excluded, and the chart goes on while they are gone', async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const send = await newSource(request, 'cranes');
  await send(lines(0, 60));
  const shapes = `/explore?${new URLSearchParams({ view: 'shapes', w: '-1h', c: 'source = cranes' })}`;
  await expect(async () => {
    await page.goto(shapes);
    await page.getByText('lifted crate').first().click({ timeout: 2_000 });
  }).toPass({ timeout: 30_000 });
  const shape = page.getByRole('complementary');
  await expect(shape).toContainText('A shape of cranes');
  await shape.getByRole('link', { name: 'Create metric' }).click();

  const form = page.getByRole('form', { name: 'New metric' });
  await expect(form).toContainText('≈ 1 series');
  await form.getByRole('button', { name: 'Add key' }).click();
  await page.getByRole('option', { name: 'emitter', exact: true }).click();
  await expect(form).toContainText('On the tape of the last day · 60 events');
  await form.getByRole('button', { name: 'Leave out emitter' }).click();
  await form.getByLabel('Name').fill('cranes.lifts');
  await addToDraft(form);
  await expect(tableOf(page, 'Metrics')).toContainText('in the draft');
  await publishDraft(page, 'Lifts are counted');

  const table = tableOf(page, 'Metrics');
  await send(lines(60, 30));
  const whole = async (): Promise<number> =>
    (await (await request.get('/api/metrics/cranes-lifts?from=-1h')).json()).whole.all ?? 0;
  await expect.poll(whole, { timeout: 20_000 }).toBe(30);
  await expect(rowOf(table, /cranes\.lifts/)).toContainText('count');
  await table.getByRole('button', { name: 'cranes.lifts', exact: true }).click();
  await expect(page.getByRole('img', { name: 'count over time' })).toBeVisible();
  await expect(page.getByText('Revision').last()).toContainText('metric “cranes.lifts” is new');

  // Its lines are kept no more.
  await page.goto(shapes);
  await page.getByText('lifted crate').first().click();
  await expect(shape).toContainText('Metric “cranes.lifts”');
  await expect(shape).toContainText('These lines are only counted');
  await shape.getByRole('radio', { name: 'none' }).click();
  await addToDraft(shape);
  await publishDraft(page, 'The lines are only ever counted');
  const kept = await found(request, 'source = cranes');
  await send(lines(90, 40));
  await expect.poll(whole, { timeout: 20_000 }).toBe(70);
  expect(await found(request, 'source = cranes')).toBe(kept);
  const csv = await (
    await request.get('/api/metrics/cranes-lifts?from=-1h', { headers: { accept: 'text/csv' } })
  ).text();
  expect(csv).toMatch(/^time,count\r\n\d{4}-/);

  // Those that were stored before it began are filled in, once.
  await page.goto('/metrics?metric=cranes-lifts');
  await page.getByRole('button', { name: 'Fill in from stored events' }).click();
  await expect(page.getByText('filled in from events stored before')).toBeVisible();
  await expect.poll(whole, { timeout: 30_000 }).toBe(130);
});

test('lines that are only ever counted are worth doing without, which a click puts into the draft', async ({
  page,
  request,
}) => {
  const send = await newSource(request, 'winches');
  // Long enough to be a part of what is kept that counts.
  const long = 'rope '.repeat(1_600);
  await send(Array.from({ length: 300 }, (_, i) => `winch ${i % 4} pulled load ${i} with ${long}`));
  const shapes = `/explore?${new URLSearchParams({ view: 'shapes', w: '-1h', c: 'source = winches' })}`;
  await expect(async () => {
    await page.goto(shapes);
    await page.getByText('pulled load').first().click({ timeout: 2_000 });
    await expect(page.getByRole('complementary')).toContainText('A shape of winches', { timeout: 2_000 });
  }).toPass({ timeout: 30_000 });
  await page.goto(`/metrics?${new URLSearchParams({ edit: 'new', when: 'source = winches', measure: 'count' })}`);
  const form = page.getByRole('form', { name: 'New metric' });
  await form.getByLabel('Name').fill('winches.pulls');
  await addToDraft(form);
  await expect(draftStrip(page)).toBeVisible();

  await page.goto('/');
  const suggestion = page.getByRole('listitem').filter({ hasText: 'counted by winches.pulls' });
  const smaller = page.getByRole('button', { name: /with smaller savings/ });
  // Lines that other tests looked at are not suggested, so there may be few.
  await expect(suggestion.or(smaller).first()).toBeVisible();
  if (await smaller.isVisible()) await smaller.click();
  await expect(suggestion).toContainText('pulled load');
  await suggestion.getByRole('button', { name: 'Exclude' }).click();
  await expect(suggestion).toBeHidden();
  await page.getByRole('button', { name: /followed up$/ }).click();
  const followed = page.getByRole('list', { name: 'Suggestions followed up' }).getByRole('listitem');
  await expect(followed.filter({ hasText: 'pulled load' })).toContainText('not excluded yet');
  await page.goto('/changes');
  await expect(page.getByText(/exclusion in .* “winches: winch .*” is new/)).toBeVisible();
  await discardDraft(page);
});

test('a key with a value for each user is refused with its price, and there are ways out', async ({ page }) => {
  await page.goto(
    `/metrics?${new URLSearchParams({ edit: 'new', when: 'source = booking-web', measure: 'count', keys: 'client,status' })}`,
  );
  const form = page.getByRole('form', { name: 'New metric' });
  const series = form.getByRole('status', { name: 'Series' });
  await expect(series).toContainText('client has ≈');
  await form.getByLabel('Name').fill('booking.clients');
  await addToDraft(form);
  await expect(form.getByRole('alert')).toContainText(/Grouped by client it has [\d,]+ series, cr\s[\d.]+ a month/);
  await expect(draftStrip(page)).toBeHidden();

  await series.getByRole('button', { name: 'Keep top 20' }).click();
  await expect(form.getByLabel('Only the top of client')).toHaveValue('20');
  await expect(series).not.toContainText('client has');
  await form.getByLabel('Name').fill('');
  await expect(form).toContainText('Enter a name');
  await form.getByLabel('Name').fill('booking.took');
  await expect(form).toContainText('Another metric has this name');
  await form.getByLabel('Name').fill('booking.clients');
  await addToDraft(form);
  await expect(tableOf(page, 'Metrics')).toContainText('top 20 of client, status');
  await discardDraft(page);
  await expect(tableOf(page, 'Metrics')).not.toContainText('booking.clients');
});

test('a metric is read by its keys and figures over any window, beside the previous period; its lines lead to events', async ({
  page,
  request,
}) => {
  await page.goto('/metrics');
  await expect(page.getByRole('heading', { level: 1 })).toContainText(
    /\d+ metrics with \d+ series, cr\s[\d.]+ a month/,
  );
  await page.getByRole('button', { name: 'booking.took', exact: true }).click();
  await page.getByRole('button', { name: 'Figure' }).click();
  await page.getByRole('option', { name: 'p50', exact: true }).click();
  await page.getByRole('button', { name: /^By/ }).click();
  await page.getByRole('option', { name: 'by path' }).click();
  await page.getByRole('radio', { name: '14 d' }).click();
  await page.getByLabel('beside the previous period').check();
  await expect(page).toHaveURL(/metric=booking-took.*figure=p50.*by=path|by=path/);
  const table = tableOf(page, 'Series');
  await expect(table).toContainText('/sailings');
  await page.goBack();
  await expect(page.getByLabel('beside the previous period')).toBeVisible();
  // Another metric does not have that key, and is shown all the same.
  await page.goto('/metrics?metric=payments-amount&by=path&figure=p50&window=14d');
  await expect(table).toContainText('total');
  await page.goto('/metrics?metric=booking-took&by=path&figure=p50&window=14d');
  const row = rowOf(table, /^\/sailings /).first();
  await row.getByRole('link', { name: 'Show events' }).click();
  await expect(page).toHaveURL(/\/explore\?/);
  await expect(page.locator('[data-condition]').first()).toContainText('path = /sailings');

  // What it says agrees with what the stored lines say: they are all kept.
  const to = new Date(Math.floor(Date.now() / 3_600_000) * 3_600_000 - 7_200_000);
  const from = new Date(to.getTime() - 4 * 3_600_000);
  const window = { from: from.toISOString(), to: to.toISOString() };
  const metric = await (
    await request.get(`/api/metrics/booking-requests?${new URLSearchParams({ ...window, by: 'status' })}`)
  ).json();
  const data = {
    condition: 'source = booking-web not path = /health*',
    ...window,
    show: 'count() by status',
    limit: 0,
  };
  const { summary } = await (await request.post('/api/search', { data })).json();
  for (const { labels, all } of metric.lines)
    expect([labels[0], all]).toEqual([labels[0], summary.rows.find((row: string[]) => row[0] === labels[0])?.[1]]);
  expect(metric.lines.length).toBeGreaterThan(2);
});

test('metrics are found by words and put together', async ({ page }) => {
  await page.goto('/metrics');
  const table = tableOf(page, 'Metrics');
  await page.getByLabel('Find metric').fill('amount acquirer');
  await expect(table.getByRole('row')).toHaveCount(2);
  await expect(table).toContainText('payments.amount');
  await page.getByLabel('Find metric').fill('nothing of the kind');
  await expect(table).toContainText('No matching metric.');
  await page.getByLabel('Find metric').fill('');
  await page.getByRole('button', { name: 'Combine metrics' }).click();
  const formula = editorOf(page, 'Metric formula');
  await formula.fill('booking.took.p50 / booking.tok');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(page.getByText('there is no metric booking.tok; did you mean booking.took?')).toBeVisible();
  await formula.fill('booking.took.p95 / booking.took.p50');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(page.getByText(/over the whole window \d/)).toBeVisible();
  await page.getByRole('button', { name: /^By/ }).click();
  await page.getByRole('option', { name: 'by path' }).click();
  await expect(page).toHaveURL(/formula=booking.*by=path|by=path.*formula=booking/);
  await page.getByRole('button', { name: 'Cancel' }).click();
  await expect(tableOf(page, 'Series')).toBeVisible();
});
