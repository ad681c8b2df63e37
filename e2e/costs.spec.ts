import { expect, test } from './installations/application.ts';
import { panelOf } from './pages/panel.ts';
import { rowOf, tableOf } from './pages/table.ts';

test('what the month comes to, what it is for, and what it would come to with other prices', async ({
  page,
  request,
}) => {
  await page.goto('/costs');
  const sentence = page.getByRole('heading', { level: 1 });
  await expect(sentence).toContainText(/is heading for cr\s[\d,]+, between cr\s[\d,]+ and cr\s[\d,]+/);
  const amountIn = (text: string | null): number =>
    Number(/(?:heading for|comes to) cr\s([\d,]+)/.exec(text ?? '')?.[1]?.replaceAll(',', ''));
  const heading = async (): Promise<number> => amountIn(await sentence.textContent());
  const expected = await heading();
  expect(expected).toBeGreaterThan(100);
  await expect(page.getByRole('img', { name: /spent, heading for cr/ })).toBeVisible();
  const table = tableOf(page, 'Costs of the month so far');
  await expect(table).toContainText('booking-web');
  await page.getByRole('radio', { name: 'team' }).click();
  await expect(table).toContainText('harbour');
  await expect(page).toHaveURL(/by=team/);
  // What is in the table is what the API says, and adds up.
  const { all, rows } = await (await request.get('/api/costs?by=team')).json();
  expect(rows.reduce((sum: number, row: { whole: number }) => sum + row.whole, 0)).toBe(all.whole);
  const csv = await (await request.get('/api/costs?by=team,tier', { headers: { accept: 'text/csv' } })).text();
  expect(csv).toMatch(/^team,tier,received,kept,stored,series,whole\r\n/);
  await expect(page.getByRole('link', { name: /^Costs/ })).toContainText(/cr\s\d+ this month/);

  await page.getByRole('button', { name: 'Price book …' }).click();
  const panel = panelOf(page, 'Price book');
  await panel.getByRole('radio', { name: 'Text' }).click();
  const text = panel.getByLabel('YAML');
  await expect(text).toHaveValue(/received: 320/);
  const before = await text.inputValue();
  await text.fill(before.replace('received: 320', 'received: -320'));
  await expect(panel.getByRole('status')).toContainText(/line \d+, column \d+: a price is not negative/);
  const save = panel.getByRole('button', { name: 'Save price book' });
  await expect(save).toBeDisabled();
  await text.fill(before.replace('received: 320', 'received: 3200'));
  const status = panel.getByRole('status');
  await expect.poll(async () => amountIn(await status.textContent())).toBeGreaterThan(2 * expected);
  const tried = amountIn(await status.textContent());
  // What is written while the book is being saved stays, and can be saved in turn.
  let letGo = (): void => {};
  const written = new Promise<void>((resolve) => (letGo = resolve));
  await page.route('**/api/prices', async (route) => {
    if (route.request().method() === 'PUT') await written;
    await route.continue();
  });
  await save.click();
  await text.fill(`${before}# the same again\n`);
  letGo();
  await expect(panel.getByText(/^saved /)).toBeVisible();
  // Meanwhile more comes in.
  await expect.poll(heading).toBeGreaterThan(0.98 * tried);
  expect(await heading()).toBeLessThan(1.02 * tried);
  await expect(text).toHaveValue(/# the same again/);
  await save.click();
  await expect.poll(heading).toBeLessThan(1.05 * expected);
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
});

test('what another retention costs: both settled, from which day on, and the difference', async ({ page }) => {
  await page.goto('/routing?tier=bookings');
  const reported = page.getByRole('status', { name: 'Cost of retention' });
  const amountsIn = async (part: RegExp): Promise<readonly number[]> => {
    const text = part.exec((await reported.textContent()) ?? '')?.[0] ?? '';
    return [...text.matchAll(/cr\s([\d,.]+\d)/g)].map(([, number = '']) => Number(number.replaceAll(',', '')));
  };
  await expect(reported).toContainText(
    /Kept for 15d: cr\s[\d,.]+ per 30 days at last week’s volume, once the tier is full/,
  );
  const [now = 0, intake = 0, storage = 0] = await amountsIn(/Kept for 15d: .*? for storage/);
  expect(intake + storage).toBeCloseTo(now, 2);
  const keep = page.getByLabel('Retention', { exact: true });
  await expect(keep).toHaveValue('15d');
  await keep.fill('7d');
  // It goes a day after it is published: the first day that is as all that follow is the one after that.
  const day = new Date(Date.now() + 2 * 86_400_000);
  const word = day.toLocaleString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
  await expect(reported).toContainText(new RegExp(`Kept for 7d, from \\w+ ${word} on: cr\\s`));
  const [settled = 0, settledIn = 0, settledStorage = 0, less = 0] = await amountsIn(/Kept for 7d.*less/);
  expect(settledIn + settledStorage).toBeCloseTo(settled, 2);
  expect(now - settled).toBeCloseTo(less, 2);
  expect(settledStorage).toBeLessThan(storage);
  // A day less is less, though the tier has fewer days yet than it keeps.
  await keep.fill('14d');
  await expect(reported).toContainText(/Kept for 14d.* less\.$/);
  await keep.fill('no time');
  await expect(reported).not.toContainText('14d');
});

test('money is turned off on all screens, and on again', async ({ page }) => {
  await page.goto('/sources');
  const month = page.getByRole('columnheader', { name: 'month so far' });
  await expect(month).toBeVisible();
  await page.goto('/costs?panel=prices');
  await page.getByRole('button', { name: 'Turn money off' }).click();
  await expect(page.getByText('Money is turned off.', { exact: true })).toBeVisible();
  await page.goto('/routing?tier=rest');
  await expect(page.getByLabel('Retention', { exact: true })).toBeVisible();
  await expect(page.getByText(/cr\s\d/)).toHaveCount(0);
  await page.goto('/sources');
  await expect(page.getByRole('columnheader', { name: 'share' })).toBeVisible();
  await expect(month).toHaveCount(0);
  for (const path of ['/?measure=money', '/explore?view=shapes&w=-1d&by=money']) {
    await page.goto(path);
    await expect(page.getByRole('radio', { name: 'Events' })).toBeVisible();
    await expect(page.getByRole('radio', { name: 'Money' })).toHaveCount(0);
    await expect(page.getByText(/cr\s\d/)).toHaveCount(0);
  }
  await page.goto('/costs');
  await page.getByRole('button', { name: 'Turn money on' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('is heading for');
});

test('a team sees its own month by a link; other windows and months stand beside', async ({ page }) => {
  const suggestions = page.waitForResponse((response) => response.url().includes('/api/suggestions'));
  await page.goto('/costs?team=booking');
  const sentence = page.getByRole('heading', { level: 1 });
  await expect(sentence).toContainText('of team booking is heading for');
  const table = tableOf(page, 'Costs of the month so far');
  await expect(table).toContainText('booking-web');
  await expect(table).not.toContainText('berth-planner');
  await expect(page.getByText('Team booking', { exact: true })).toBeVisible();
  const picture = page.getByRole('img', { name: /spent/ });
  await expect(picture).toContainText('heading for');
  await page.getByRole('button', { name: 'Whose costs' }).click();
  await page.getByRole('option', { name: 'everybody’s' }).click();
  await expect(table).toContainText('berth-planner');
  await expect(page).not.toHaveURL(/team=/);
  await expect(picture).toContainText('heading for');

  // Suggestions are shown above the table, which moves down when they appear.
  await suggestions;
  await page.getByRole('button', { name: 'Window' }).click();
  await page.getByRole('option', { name: 'the last 7 full days' }).click();
  await page.getByLabel('beside the 7 days before').check();
  const week = tableOf(page, 'Costs of the last 7 full days');
  await expect(week.getByRole('columnheader', { name: 'the 7 days before' })).toBeVisible();
  await expect(rowOf(week, /timetable/)).toContainText(/\+ cr\s\d/);
  await expect(page).toHaveURL(/of=7d.*beside=true|beside=true.*of=7d/);

  await page.getByRole('button', { name: 'Previous month' }).click();
  await expect(sentence).toContainText(/ cost cr\s[\d,.]+, of a budget of/);
  await expect(page).toHaveURL(/month=\d{4}-\d\d/);
  await page.getByRole('button', { name: 'Next month' }).click();
  await expect(sentence).toContainText('is heading for');
  await expect(page.getByRole('button', { name: 'Next month' })).toBeDisabled();
  await expect(page.getByText('The plan of the Skerry Line')).toBeVisible();
});

test('a price book is written field by field, with what is wrong under the field that it is about', async ({
  page,
}) => {
  await page.goto('/costs?panel=prices');
  const panel = panelOf(page, 'Price book');
  const received = panel.getByLabel('A GB received').last();
  const status = panel.getByRole('status');
  await expect(received).toHaveValue('320');
  await received.fill('-1');
  await expect(panel.getByRole('alert')).toContainText('a price is not negative');
  await expect(panel.getByRole('button', { name: 'Save price book' })).toBeDisabled();
  await received.fill('3200');
  await expect(panel.getByRole('alert')).toHaveCount(0);
  await expect(status).toContainText(/comes to cr\s[\d,]+/);
  await panel.getByRole('button', { name: 'Add budget' }).click();
  await panel.getByLabel('of team').last().fill('nobody');
  await expect(panel.getByText('there is no team called nobody').first()).toBeVisible();
  await panel.getByLabel('of team').last().fill('');
  await panel.getByLabel('of fleet').last().fill('no fleet');
  await expect(panel.getByText('there is no fleet called no fleet').first()).toBeVisible();
  await panel
    .getByRole('button', { name: /^Take out budget/ })
    .last()
    .click();
  await panel.getByRole('radio', { name: 'Text' }).click();
  await expect(panel.getByLabel('YAML')).toHaveValue(/received: 3200/);
  await page.reload();
  await expect(panel.getByLabel('YAML')).toHaveValue(/received: 320\n/);
});
