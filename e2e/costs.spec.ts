import { expect, test } from './application.ts';

test('what the month comes to, what it is for, and what it would come to with other prices', async ({
  page,
  request,
}) => {
  await page.goto('/costs');
  const sentence = page.getByRole('heading', { level: 1 });
  await expect(sentence).toContainText(/is heading for cr [\d,]+, between cr [\d,]+ and cr [\d,]+/);
  const amountIn = (text: string | null): number =>
    Number(/(?:heading for|comes to) cr ([\d,]+)/.exec(text ?? '')?.[1]?.replaceAll(',', ''));
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
  await expect(page.getByRole('link', { name: /^Costs/ })).toContainText(/cr \d+ a month/);

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
