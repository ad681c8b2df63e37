import { expect, test } from './installations/application.ts';
import { addToDraft, draftStrip } from './pages/draft.ts';
import { rowOf, tableOf } from './pages/table.ts';

test('who contributes most is seen, left out, ranked by one step, and followed to events and to an exclusion', async ({
  page,
}) => {
  await page.goto('/metrics');
  await page.getByRole('link', { name: 'Talkers' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/sent \d+(\.\d)? % of the bytes/);
  const rankings = tableOf(page, 'Rankings');
  await expect(rankings.getByRole('row')).toHaveCount(7);
  await rankings.getByRole('button', { name: 'Clients', exact: true }).click();
  await page.getByRole('radio', { name: '7 d' }).click();
  const table = tableOf(page, 'Largest contributors');
  const first = table.getByRole('row').nth(1);
  await expect(first).toContainText('harbour-partner');
  await expect(page.getByText('Amounts are exact')).toBeVisible();

  await page.getByRole('button', { name: 'Leave harbour-partner out' }).click();
  await expect(first).toContainText('192.0.2.9');
  await expect(page.getByText(/Left out, [\d,.]+ in all/)).toBeVisible();
  await page.goBack();
  await expect(first).toContainText('harbour-partner');
  await page.goForward();
  await expect(first).toContainText('192.0.2.9');
  await page.getByRole('button', { name: 'Take harbour-partner back' }).click();
  await expect(first).toContainText('harbour-partner');

  await page.getByRole('button', { name: 'Rank one step' }).click();
  await expect(page.getByText(/in the 1 h from/)).toBeVisible();
  await page.getByRole('button', { name: 'Previous step' }).click();
  await expect(page).toHaveURL(/at=/);
  await page.getByRole('button', { name: 'Whole window' }).click();
  await expect(page.getByText(/over the window/)).toBeVisible();

  const saved = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV' }).click();
  expect((await saved).suggestedFilename()).toBe('clients.csv');

  const row = rowOf(table, /192\.0\.2\.9 /).first();
  await expect(row.getByRole('link', { name: 'Show events' })).toHaveAttribute('href', /client\+%3D\+%22192.0.2.9%22/);
  await row.getByRole('button', { name: 'Exclude 192.0.2.9' }).click();
  await expect(page).toHaveURL(/\/routing\?tier=.*noise=/);
  await expect(page.getByRole('form', { name: 'New exclusion' })).toContainText('192.0.2.9');
});

test('a ranking is made in two steps, with who would be first, and goes into the draft', async ({ page }) => {
  await page.goto('/metrics/talkers?edit=new');
  const form = page.getByRole('form', { name: 'New ranking' });
  await form.getByRole('button', { name: 'Add field' }).click();
  await page.getByRole('option', { name: 'acquirer', exact: true }).click();
  await expect(tableOf(form, 'Top of the ranking').getByRole('row').first()).toBeVisible();
  await form.getByRole('button', { name: 'Ranked by' }).click();
  await page.getByRole('option', { name: 'sum of a field' }).click();
  await form.getByLabel('of field').fill('amount');
  await form.getByLabel('Title').fill('clients');
  await expect(form.getByRole('button', { name: 'Add to draft' })).toBeDisabled();
  await form.getByLabel('Title').fill('Takings');
  await addToDraft(form);
  const rankings = tableOf(page, 'Rankings');
  await expect(rankings).toContainText('sum of amount by acquirer · in the draft');
  await rankings.getByRole('button', { name: /^Edit Takings/ }).click();
  await expect(page.getByRole('form', { name: 'Ranking Takings' })).toBeVisible();
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(rankings).not.toContainText('Takings');
  // With it the draft has nothing left that is otherwise.
  await expect(draftStrip(page)).toHaveCount(0);
});

test('what a ranking tells agrees with the stored lines and with the ledger', async ({ request }) => {
  const to = new Date(Math.floor(Date.now() / 3_600_000) * 3_600_000 - 7_200_000);
  const from = new Date(to.getTime() - 4 * 3_600_000);
  const window = { from: from.toISOString(), to: to.toISOString() };
  const ranking = await (await request.get(`/api/rankings/pages?${new URLSearchParams(window)}`)).json();
  const data = {
    condition: 'source = booking-web not path = /health*',
    ...window,
    show: 'sum(raw_bytes) by path, status',
    limit: 0,
  };
  const { summary } = await (await request.post('/api/search', { data })).json();
  const stored = new Map(summary.rows.map((row: string[]) => [`${row[0]} ${row[1]}`, Number(row[2])] as const));
  const reported = ranking.talkers.filter(({ labels }: { labels: string[] }) => !labels[0]?.startsWith('/health'));
  expect(reported.length).toBeGreaterThan(5);
  for (const { labels, amount } of reported.slice(0, 20))
    expect([labels, amount]).toEqual([labels, stored.get(labels.join(' '))]);
  expect(ranking.missed).toBe(0);
  const csv = await request.get(`/api/rankings/pages?${new URLSearchParams(window)}`, {
    headers: { accept: 'text/csv' },
  });
  expect(await csv.text()).toMatch(/^place,path,status,at least,at most,share,since,\d{4}-/);
});
