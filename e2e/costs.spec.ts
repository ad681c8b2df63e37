import { expect, test } from './application.ts';

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
  const table = page.getByRole('table', { name: 'Costs of the month so far' });
  await expect(table).toContainText('booking-web');
  await page.getByRole('radio', { name: 'team' }).click();
  await expect(table).toContainText('harbour');
  await expect(page).toHaveURL(/by=team/);
  // What stands in the table is what the API says, and adds up.
  const { all, rows } = await (await request.get('/api/costs?by=team')).json();
  expect(rows.reduce((sum: number, row: { whole: number }) => sum + row.whole, 0)).toBe(all.whole);
  const csv = await (await request.get('/api/costs?by=team,tier', { headers: { accept: 'text/csv' } })).text();
  expect(csv).toMatch(/^team,tier,received,kept,stored,whole\r\n/);
  await expect(page.getByRole('link', { name: /^Costs/ })).toContainText(/cr\s\d+ a month/);

  await page.getByRole('button', { name: 'Price book …' }).click();
  const panel = page.getByRole('complementary', { name: 'Price book' });
  const text = panel.getByLabel('YAML');
  await expect(text).toHaveValue(/received: 320/);
  const before = await text.inputValue();
  await text.fill(before.replace('received: 320', 'received: -320'));
  await expect(panel.getByRole('status')).toContainText(/line \d+, column \d+: a price is not negative/);
  const save = panel.getByRole('button', { name: 'Save the price book' });
  await expect(save).toBeDisabled();
  await text.fill(before.replace('received: 320', 'received: 3200'));
  const status = panel.getByRole('status');
  await expect.poll(async () => amountIn(await status.textContent())).toBeGreaterThan(2 * expected);
  const tried = amountIn(await status.textContent());
  await save.click();
  // Meanwhile more comes in.
  await expect.poll(heading).toBeGreaterThan(0.98 * tried);
  expect(await heading()).toBeLessThan(1.02 * tried);
  await text.fill(before);
  await save.click();
  await expect.poll(heading).toBeLessThan(1.05 * expected);
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
});

test('what another retention comes to: now, settled, the day and the money', async ({ page }) => {
  await page.goto('/routing?tier=bookings');
  const told = page.getByRole('status', { name: 'What it costs' });
  const amountsIn = async (part: RegExp): Promise<readonly number[]> => {
    const text = part.exec((await told.textContent()) ?? '')?.[0] ?? '';
    return [...text.matchAll(/cr\s([\d,.]+\d)/g)].map(([, number = '']) => Number(number.replaceAll(',', '')));
  };
  await expect(told).toContainText(/Costs cr\s[\d,.]+ in 30 days as the last week was/);
  const [now = 0, comesIn = 0, lies = 0] = await amountsIn(/Costs .*lies there/);
  expect(comesIn + lies).toBeCloseTo(now, 2);
  const keep = page.getByLabel('Kept for');
  await expect(keep).toHaveValue('15d');
  await keep.fill('7d');
  // It goes a day after it is published: the first day that is as all that follow is the one after that.
  const day = new Date(Date.now() + 2 * 86_400_000);
  const word = day.toLocaleString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
  await expect(told).toContainText(new RegExp(`With 7d, settled on \\w+ ${word}: cr\\s`));
  const [settled = 0, settledIn = 0, settledLies = 0, less = 0] = await amountsIn(/With 7d.*less/);
  expect(settledIn + settledLies).toBeCloseTo(settled, 2);
  expect(now - settled).toBeCloseTo(less, 2);
  expect(settledLies).toBeLessThan(lies);
  await keep.fill('no time');
  await expect(told).not.toContainText('With');
});

test('money is turned off on all screens, and on again', async ({ page }) => {
  await page.goto('/sources');
  const month = page.getByRole('columnheader', { name: 'month so far' });
  await expect(month).toBeVisible();
  await page.goto('/costs?panel=prices');
  await page.getByRole('button', { name: 'Turn money off' }).click();
  await expect(page.getByText('Money is turned off.', { exact: true })).toBeVisible();
  await page.goto('/routing?tier=rest');
  await expect(page.getByLabel('Kept for')).toBeVisible();
  await expect(page.getByText(/cr\s\d/)).toHaveCount(0);
  await page.goto('/sources');
  await expect(page.getByRole('columnheader', { name: 'share' })).toBeVisible();
  await expect(month).toHaveCount(0);
  await page.goto('/costs');
  await page.getByRole('button', { name: 'Turn money on' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('is heading for');
});
