import { expect, test } from './installations/application.ts';
import { installation } from './installations/installations.ts';
import { editorOf } from './pages/editor.ts';
import { panelOf } from './pages/panel.ts';

test('what comes in is followed, marked, paused and narrowed; one click leads to the last hour, and back', async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const added = await request.post('/api/sources', { data: { name: 'signal-mast', kind: 'http' } });
  expect(added.status()).toBe(201);
  const { token } = await added.json();
  const send = async (lines: readonly string[]): Promise<void> => {
    const headers = { authorization: `Bearer ${token}` };
    const url = `${installation().intake}/intake/signal-mast`;
    await expect
      .poll(async () => (await fetch(url, { method: 'POST', headers, body: lines.join('\n') })).status)
      .toBe(200);
  };
  await page.goto('/explore?view=arrivals&c=source%20%3D%20signal-mast');
  const first = page.getByRole('region', { name: 'Arrivals: source = signal-mast' });
  await expect(page.getByText('No matching events yet')).toBeVisible();
  await send(['lantern lit at pier 2', 'lantern dark at pier 3']);
  await expect(first.getByRole('listitem')).toHaveCount(2);
  await expect(first.getByRole('listitem').first()).toContainText('Everything else');

  await page.getByLabel('A text to mark').fill('pier 3');
  await page.getByRole('button', { name: 'Mark', exact: true }).click();
  await expect(first.locator('mark')).toHaveText(['pier 3']);

  await page.getByRole('button', { name: 'Pause' }).click();
  await send(Array.from({ length: 60 }, (_, n) => `swell ${n} passes the mast`));
  await expect(page.getByText('60 new meanwhile')).toBeVisible();
  await expect(first).not.toContainText('passes the mast');
  await page.getByRole('button', { name: 'Resume' }).click();
  await expect(first.getByRole('listitem').first()).toContainText('passes the mast');

  // Who scrolls away reads in peace; at the top it goes on.
  // Of a group that comes soon after another one few lines are sent: it takes some until there is something to scroll.
  const goOn = page.getByRole('button', { name: 'Resume' });
  let round = 0;
  await expect(async () => {
    round++;
    if (await goOn.isVisible()) await goOn.click();
    await send(Array.from({ length: 30 }, (_, n) => `gull ${n} of round ${round} passes the mast`));
    await expect(first.getByRole('listitem').first()).toContainText(`of round ${round} passes`, { timeout: 5_000 });
    await first.hover();
    await page.mouse.wheel(0, 200);
    await expect(goOn).toBeVisible({ timeout: 1_000 });
  }).toPass({ timeout: 45_000 });
  await send(['fog signal sounded']);
  await expect(page.getByText('1 new meanwhile')).toBeVisible();
  await page.mouse.wheel(0, -2_000);
  await expect(first.getByRole('listitem').first()).toContainText('fog signal sounded');

  await page.getByRole('button', { name: 'Add view' }).click();
  const beside = editorOf(page, 'Which events stand beside');
  await beside.click();
  await page.keyboard.insertText('source = signal-mast fog');
  await page.keyboard.press('ControlOrMeta+Enter');
  await expect(first.getByRole('listitem').first()).toBeVisible();
  const second = page.getByRole('region', { name: 'Arrivals: source = signal-mast fog' });
  await send(['fog clears', 'lantern lit at pier 2']);
  await expect(second.getByRole('listitem')).toHaveCount(1);

  await second.getByRole('listitem').getByRole('button').click();
  const panel = panelOf(page, 'Arrived event');
  await expect(panel).toContainText('fog clears');
  await expect(panel.getByRole('link', { name: 'Everything else' })).toHaveAttribute('href', '/routing?tier=rest');
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Search the last hour' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('events in 1 h', { timeout: 20_000 });
  await expect(page.getByRole('region', { name: 'Found events' }).getByRole('listitem').first()).toContainText(
    'signal-mast',
  );
  await page.goBack();
  await expect(page.getByRole('button', { name: 'Watch' })).toBeVisible();
  // A condition that is wrong is reported.
  const wrong = await request.get('/api/arrivals?condition=severity%20%3E%3D');
  expect(wrong.status()).toBe(400);
});
