import { readFileSync } from 'node:fs';
import { expect, test } from './installations/application.ts';
import { tableOf } from './pages/table.ts';

/** The screens with a table, the heading to sort by, and whether the address tells how it is sorted. */
const tables = [
  ['/sources', 'Sources', 'source', true],
  ['/sources?view=emitters', 'Emitters', 'emitter', true],
  ['/sources?view=rates', 'Rates', 'events/s', true],
  ['/parsing?view=fields', 'Fields', 'field', true],
  ['/explore?w=-2h&view=summary&show=count()%20by%20source', 'Summary', 'source', false],
] as const;

for (const [path, label, heading, isInAddress] of tables) {
  test(`${label}: sorted by its headings and read by keyboard`, async ({ page }) => {
    await page.goto(path);
    const table = tableOf(page, label);
    await expect(table.getByRole('row').nth(2)).toBeVisible();
    const column = table.getByRole('columnheader', { name: heading, exact: true });
    const place = await column.evaluate((th) => [...(th.parentElement?.children ?? [])].indexOf(th));
    const cells = async (): Promise<readonly string[]> =>
      await table
        .locator('tbody tr[data-row]')
        .evaluateAll((rows, at) => rows.slice(0, 12).map((row) => row.children[at]?.textContent?.trim() ?? ''), place);
    const button = column.getByRole('button');
    await button.focus();
    await page.keyboard.press('Enter');
    await expect(column).toHaveAttribute('aria-sort', /ascending|descending/);
    const once = await cells();
    await page.keyboard.press('Enter');
    await expect.poll(cells).not.toEqual(once);
    if (isInAddress) {
      await expect(page).toHaveURL(/sort=/);
      await page.reload();
      await expect(column).toHaveAttribute('aria-sort', /ascending|descending/);
      await expect.poll(async () => (await cells())[0]).not.toBe('');
    }

    // One row of the table is reached by Tab; arrows go on from there, and the width of a column follows Alt and arrows.
    const rows = table.locator('tbody tr[data-row]');
    await rows.first().focus();
    await page.keyboard.press('ArrowDown');
    await expect(rows.nth(1)).toBeFocused();
    await page.keyboard.press('End');
    const count = Number(await table.getAttribute('aria-rowcount')) - 1;
    await expect(table.locator(`tbody tr[data-row="${count - 1}"]`)).toBeFocused();
    await page.keyboard.press('Home');
    await expect(table.locator('tbody tr[data-row="0"]')).toBeFocused();
    const width = async (): Promise<number> => (await column.boundingBox())?.width ?? 0;
    const before = await width();
    await button.focus();
    for (let i = 0; i < 4; i++) await page.keyboard.press('Alt+ArrowRight');
    expect(await width()).toBeGreaterThan(before);
  });
}

test('columns are chosen and stay chosen, and what is shown goes out as CSV', async ({ page }) => {
  await page.goto('/sources');
  const table = tableOf(page, 'Sources');
  await page.getByRole('button', { name: 'Choose columns' }).click();
  await page.getByLabel('typical').uncheck();
  await page.getByLabel('owner').check();
  await page.keyboard.press('Escape');
  await page.reload();
  await expect(table.getByRole('columnheader', { name: 'owner' })).toBeVisible();
  await expect(table.getByRole('columnheader', { name: 'typical' })).toHaveCount(0);
  await expect(table.getByRole('columnheader', { name: 'month so far' })).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save Sources as CSV' }).click();
  const [head, ...lines] = readFileSync(await (await download).path(), 'utf8').split('\r\n');
  expect(head).toBe('source,health,events/s now,received 24 h,share,month so far,parsed,emitters,last seen,owner');
  expect(lines.length).toBeGreaterThanOrEqual(10);
});

test('what has no value comes last, whichever way the table is sorted', async ({ page, request }) => {
  // A source that nobody has sent to has no typical rate.
  const silent = 'turnstile-spare';
  expect((await request.post('/api/sources', { data: { name: silent, kind: 'http' } })).status()).toBe(201);
  await page.goto('/sources?sort=name');
  const table = tableOf(page, 'Sources');
  const heading = table.getByRole('columnheader', { name: 'typical' });
  const rows = table.locator('tbody tr[data-row]');
  await expect(rows.filter({ hasText: silent })).toBeVisible();
  const column = await heading.evaluate((th) => [...(th.parentElement?.children ?? [])].indexOf(th));
  const typical = () =>
    rows.evaluateAll((all, at) => all.map((row) => row.children[at]?.textContent?.trim() ?? ''), column);
  for (const way of ['descending', 'ascending']) {
    await heading.getByRole('button').click();
    await expect(heading).toHaveAttribute('aria-sort', way);
    await expect.poll(async () => (await typical()).at(-1)).toBe('–');
    expect((await typical())[0]).toMatch(/^[0-9]/);
  }
  // Which were first seen within a span is shown for any span that is typed.
  await page.getByRole('radio', { name: 'First seen within 4 h' }).click();
  await expect(rows.filter({ hasText: silent })).toBeHidden();
  await page.getByRole('radio', { name: 'Not seen for 1 d' }).click();
  await expect(rows.filter({ hasText: silent })).toBeVisible();
  const span = page.getByLabel('Not seen for', { exact: true });
  await span.fill('nonsense');
  await expect(span).toHaveAttribute('aria-invalid', 'true');
  await span.fill('90m');
  await expect(page.getByRole('radio', { name: 'Not seen for 1 h 30 min' })).toBeVisible();
  await expect(page).toHaveURL(/unseen=90m/);
  expect((await request.delete(`/api/sources/${silent}`)).ok()).toBe(true);
});

test('Enter follows a row, and thousands of emitters scroll', async ({ page }) => {
  await page.goto('/sources?sort=name');
  await page.locator('tr[data-row="0"]').focus();
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/sources\/[a-z-]+$/);
});
