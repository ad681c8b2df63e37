import { expect, test } from './installations/application.ts';
import { tableOf } from './pages/table.ts';

test('Overview leads to the cause in one click, and on to an exclusion', async ({ page }) => {
  await page.goto('/');
  const item = page.getByRole('link', { name: /timetable sends .* as much as before/ });
  await expect(item).toContainText(/since \w+ \d+ \w+ 09:40/);
  await item.click();
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toContainText(/timetable sends \d+(\.\d)? × as much since \w+ \d+ \w+ 09:40/);
  await expect(heading).toContainText(/client = harbour-partner explains (9\d|10\d)/);
  await expect(page.getByRole('radio', { name: 'Bytes', exact: true })).toBeChecked();
  const rows = tableOf(page, 'What explains the change');
  await expect(rows.getByRole('row')).toHaveCount(2);
  await expect(rows.getByRole('row').nth(1)).toContainText('as before');
  await expect(page.getByText(/What else changed around/)).toBeVisible();

  const panel = page.getByRole('complementary');
  await expect(panel).toContainText('client = harbour-partner in timetable');
  await panel.getByRole('button', { name: 'Show lines' }).click();
  await expect(page).toHaveURL(/harbour-partner/);
  await expect(page.getByRole('radio', { name: 'Lines' })).toBeChecked();
  await page.goBack();
  await expect(heading).toContainText('harbour-partner');
  await panel.getByRole('button', { name: 'Exclude client = harbour-partner' }).click();
  await expect(page).toHaveURL(/\/routing\?tier=.*noise=/);
  await expect(page.getByRole('form', { name: 'New exclusion' })).toContainText('harbour-partner');
});

test('typed figures, their errors, and two windows', async ({ page }) => {
  await page.goto('/explore?view=why&c=source%20%3D%20timetable&w=-1d');
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toContainText('timetable');
  await page.getByRole('radio', { name: 'Figure' }).click();
  const figure = page.getByLabel('Figure of a summary');
  await figure.fill('max(status)');
  await figure.press('Enter');
  await expect(page.getByText('max() depends on a single event')).toBeVisible();
  await figure.fill('p95(');
  await figure.press('Enter');
  await expect(page.getByText('at character 5')).toBeVisible();
  await page.getByRole('radio', { name: 'Events', exact: true }).click();
  const beside = page.getByLabel('Compare with window');
  await beside.fill('-14d..-13d');
  await beside.press('Enter');
  await expect(heading).toContainText(/timetable sends \d+(\.\d)? × as much; client = harbour-partner/);
  await beside.fill('the day before');
  await beside.press('Enter');
  await expect(heading).toContainText('is not a time window');
});

test('what was received is explained from the ledger, which knows no other fields', async ({ page }) => {
  await page.goto('/explore?view=why&c=source%20%3D%20timetable&w=-7d');
  await page.getByRole('radio', { name: 'Received bytes' }).click();
  const heading = page.getByRole('heading', { level: 1 });
  await expect(heading).toContainText(/timetable sends \d+(\.\d)? × as much/);
  await expect(page.getByText(/events as counted on arrival/)).toBeVisible();
  await page.goto('/explore?view=why&c=client%20%3D%20harbour-partner&measure=received%20bytes&w=-7d');
  await expect(page.getByText(/only counted by source, fleet, tier, shape and severity/)).toBeVisible();
});

test('the page of a source links to why its volume changed', async ({ page }) => {
  await page.goto('/sources/timetable');
  await page.getByRole('link', { name: 'Why' }).first().click();
  await expect(page).toHaveURL(/view=why/);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('harbour-partner');
});

test('a drag across a picture and a row of Costs ask why', async ({ page }) => {
  await page.goto('/sources/timetable');
  const picture = page.getByRole('img', { name: /^Events of timetable by severity/ });
  await expect(picture.getByText('info')).toBeVisible();
  const { x, y } = (await picture.boundingBox()) ?? { x: 0, y: 0 };
  await page.mouse.move(x + 200, y + 60);
  await page.mouse.down();
  await page.mouse.move(x + 300, y + 60, { steps: 4 });
  await page.mouse.up();
  const link = page.getByRole('link', { name: /^Why, / });
  await expect(link).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(link).toBeHidden();

  await page.goto('/costs?of=7d');
  await page.getByRole('link', { name: 'Why timetable costs this much' }).click();
  await expect(page.getByRole('radio', { name: 'Cost' })).toBeChecked();
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/timetable costs \d+(\.\d)? × as much/);
});

test('what is read is counted on the page of its source', async ({ page }) => {
  await page.goto('/explore?c=source+%3D+vessels&w=-1h');
  await expect(page.getByRole('status').filter({ hasText: 'looked into' })).toBeVisible();
  await page.goto('/sources/vessels');
  await expect(page.getByText(/^Read by .*search/)).toBeVisible();
});
