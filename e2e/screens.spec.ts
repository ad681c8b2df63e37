import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { expect, test } from './installations/application.ts';

const screens = [
  ['/', 'Needs you'],
  ['/sources', 'berth-planner'],
  ['/sources?view=emitters', 'gate-p4-01'],
  ['/sources?view=rates', 'share of the whole'],
  ['/sources?connect=1&kind=files', 'Files, one pattern per line'],
  ['/sources?panel=maintenance', 'Reason'],
  ['/sources/payments', 'Recent lines'],
  ['/parsing', 'Berth planner'],
  ['/parsing/payments', 'Sample from the tape'],
  ['/parsing?view=fields', 'bytes per day'],
  ['/parsing?view=rejects', 'Retry with live plan'],
  ['/parsing?panel=kits', 'Web access lines'],
  ['/routing?tier=rest', 'Learned addresses'],
  ['/routing?posture=storm-watch', 'While it is on'],
  ['/explore?w=-2h&view=shapes&c=source%20%3D%20payments', 'counted as lines arrived'],
  ['/explore?view=arrivals&c=severity%20%3E%3D%20error&beside=source%20%3D%20tides&mark=tide', 'Pause'],
  // Few lines are enough: each is looked at.
  ['/explore?w=-6h&c=severity%20%3E%3D%20error', 'have in common'],
  ['/explore?w=-2h&view=summary', 'CSV'],
  ['/explore?w=-2h&view=summary&show=count()', 'table'],
  [
    '/explore?w=-2h&view=summary&c=source%20%3D%20vessels&show=count()%20by%20%60position.latitude%60%2C%20%60position.longitude%60&picture=map',
    'map',
  ],
  ['/explore?w=-1d&view=why&c=source%20%3D%20timetable', 'What explains it'],
  ['/explore?w=-2h&panel=saved', 'Save search'],
  ['/metrics?metric=booking-requests&by=status', 'Total over the window'],
  ['/metrics?edit=new&when=source%20%3D%20booking-web&keys=status', 'On the tape of the last day'],
  ['/metrics/talkers?ranking=clients', 'Largest contributors'],
  ['/metrics/talkers?edit=new&when=source%20%3D%20booking-web&keys=path', 'in total over the last 24 h'],
  ['/costs', 'events kept'],
  ['/costs?panel=prices', 'Save price book'],
  ['/changes', 'Revision 2'],
] as const;

/**
 * Serious violations of some rules of axe, as `id: where`. Pages have no frames, so the legacy mode is enough, and only violations
 * are collected: both save time.
 */
async function serious(page: Page, runOnly: { type: 'tag' | 'rule'; values: string[] }): Promise<readonly string[]> {
  const axe = new AxeBuilder({ page }).options({ runOnly, resultTypes: ['violations'] }).setLegacyMode(true);
  const { violations } = await axe.analyze();
  return violations
    .filter(({ impact }) => impact === 'serious' || impact === 'critical')
    .map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`);
}

test.describe('by day and by night', () => {
  test.use({ colorScheme: 'light' });
  for (const [path, text] of screens) {
    test(`${path} can be used by everyone`, async ({ page }) => {
      await page.goto(path);
      await expect(page.getByText(text).first()).toBeVisible();
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      const tags = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'];
      expect(await serious(page, { type: 'tag', values: tags })).toEqual([]);
      // At night the same is there in other colours.
      await page.evaluate(() => {
        document.documentElement.dataset.theme = 'night';
        window.dispatchEvent(new Event('themechange'));
      });
      expect(await serious(page, { type: 'rule', values: ['color-contrast'] })).toEqual([]);
    });
  }
});

test('a foreign host and a foreign origin are refused', async ({ request, baseURL }) => {
  expect((await request.get('/api/plan', { headers: { host: 'elsewhere.example' } })).status()).toBe(403);
  expect(
    (await request.put('/api/plan/draft', { headers: { origin: 'http://elsewhere.example' }, data: {} })).status(),
  ).toBe(403);
  expect((await request.get('/api/plan', { headers: { origin: baseURL ?? '' } })).status()).toBe(200);
});

test('a search is narrowed by clicking a value, and an empty one says why', async ({ page }) => {
  await page.goto('/explore?w=-6h');
  await page
    .getByRole('button', { name: /^timetable/ })
    .first()
    .click();
  await expect(page).toHaveURL(/source/);
  await page.goto('/explore?w=-6h&c=statsu%20%3D%20200');
  await expect(page.getByText('did you mean status?')).toBeVisible();
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/routing/);
});

test.describe('in another zone', () => {
  test.use({ timezoneId: 'Pacific/Auckland' });
  test('the choice between local times and UTC holds on all screens', async ({ page }) => {
    const text = async (): Promise<string> => (await page.locator('main, header').allTextContents()).join(' ');
    await page.goto('/explore?w=2026-06-01T00:00..2026-06-01T01:00');
    await expect.poll(text).toContain('1 Jun 12:00 to 1 Jun 13:00');
    await page.getByRole('button', { name: 'Show times in UTC' }).click();
    await expect.poll(text).toContain('1 Jun 00:00 to 1 Jun 01:00');
    await page.goto('/changes');
    await page.getByRole('button', { name: 'Show local times' }).click();
    await expect(page.getByRole('button', { name: 'Show times in UTC' })).toBeVisible();
    await page.goto('/explore?w=2026-06-01T00:00..2026-06-01T01:00');
    await expect.poll(text).toContain('1 Jun 12:00 to 1 Jun 13:00');
  });
});
