import { readFileSync } from 'node:fs';
import { expect, test } from './installations/application.ts';
import { discardDraft, draftStrip } from './pages/draft.ts';
import { editorOf } from './pages/editor.ts';
import { panelOf } from './pages/panel.ts';

test('anywhere by name, and the keys that work everywhere', async ({ page }) => {
  await page.goto('/');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('in the last 24 h');
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByRole('combobox', { name: 'Where to' }).fill('pier-net');
  await expect(page.getByRole('option')).toHaveCount(1);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/sources\/pier-network$/);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('go anywhere by name');
  await page.keyboard.press('Escape');
  await page.keyboard.press('6');
  await expect(page).toHaveURL(/\/explore/);
  await expect(editorOf(page, 'Condition')).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('gate');
  await expect(page.locator('[data-condition]')).toContainText('gate');
});

test('by day and by night, and it is remembered', async ({ page }) => {
  await page.goto('/routing');
  const theme = (): Promise<string | undefined> => page.evaluate(() => document.documentElement.dataset.theme);
  const before = await theme();
  await page.getByRole('button', { name: /night|day|theme/i }).click();
  const after = await theme();
  expect(after).not.toBe(before);
  await page.reload();
  expect(await theme()).toBe(after);
});

test('an event is opened, narrowed by a value of it, and looked around', async ({ page }) => {
  await page.goto('/explore?w=-2h&c=source%20%3D%20gates');
  const events = page.getByRole('region', { name: 'Found events' });
  await events.getByRole('button', { expanded: false }).first().click();
  await expect(events.getByRole('button', { name: 'What happened around it' })).toBeVisible();
  const value = events.getByTitle('Filter by this value').first();
  const text = (await value.textContent()) ?? '';
  await value.click();
  await expect(page.locator('[data-condition]').first()).toContainText(text);
  // A line of the list before may be gone once it is opened.
  await expect(async () => {
    await events.getByRole('button', { expanded: false }).first().click();
    await events.getByRole('button', { name: 'What happened around it' }).click({ timeout: 2_000 });
  }).toPass();
  await expect(page.getByRole('region', { name: 'Around the event' })).toContainText('this event');
});

test('the window is narrowed by dragging on the time spine', async ({ page }) => {
  await page.goto('/explore?w=-6h');
  const spine = page.getByRole('img', { name: /drag to narrow/ });
  const box = await spine.boundingBox();
  if (!box) throw new Error('there is no spine');
  await page.mouse.move(box.x + box.width - 10, box.y + box.height * 0.4);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 10, box.y + box.height * 0.7, { steps: 5 });
  await page.mouse.up();
  await expect(page).toHaveURL(/w=\d{4}-\d\d-\d\dT/);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/1 h \d+ min/);
});

test('a summary is drawn four ways and goes out as CSV', async ({ page }) => {
  await page.goto('/explore?w=-6h&view=summary&show=count()%20by%20source');
  const picture = page.getByRole('img', { name: 'The summary as a picture' });
  for (const kind of ['ring', 'column', 'bar']) {
    await page.getByRole('radio', { name: kind, exact: true }).click();
    await expect(page).toHaveURL(new RegExp(`picture=${kind}`));
    await expect(picture).toBeVisible();
  }
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'CSV', exact: true }).click();
  const file = await (await download).path();
  const [head, ...rows] = readFileSync(file, 'utf8').split('\r\n');
  expect(head).toBe('source,count()');
  expect(rows.length).toBeGreaterThanOrEqual(10);
  expect(rows.every((row) => /^[a-z-]+,\d+$/.test(row))).toBe(true);
});

test('tiers are put in another order and exclusions loosened, in the draft only', async ({ page, request }) => {
  await page.goto('/routing');
  const strip = draftStrip(page);
  await page.getByRole('button', { name: 'Move Audit trail up' }).click();
  await expect(strip).toContainText('1 change');
  const probes = page.getByRole('radiogroup', { name: 'How much of Health probes to keep' });
  await probes.getByRole('radio', { name: '1 in n' }).click();
  await expect(strip).toContainText('2 changes');
  await expect(probes.getByRole('radio', { name: '1 in 10' })).toBeChecked();
  const { changes } = await (await request.get('/api/plan/draft')).json();
  expect(changes.map(({ text }: { text: string }) => text).join('; ')).toContain('order of tiers is now Audit trail');
  await page.getByRole('button', { name: 'Add tier' }).click();
  const panel = panelOf(page, 'New tier');
  await expect(panel).toBeVisible();
  await expect(strip).toContainText('3 changes');
  await discardDraft(page);
  expect(await (await request.get('/api/plan/draft')).json()).toBeNull();
});

test('who is silent, and who sends most, are addresses to be shared', async ({ page }) => {
  await page.goto('/sources?view=emitters');
  await page.getByRole('radio', { name: /^6 silent/ }).click();
  await expect(page).toHaveURL(/state=silent/);
  await page.reload();
  await expect(page.getByText('gate-p4-06')).toBeVisible();
  await expect(page.getByText('gate-p1-01')).toBeHidden();
  await page.goto('/sources?view=rates');
  await expect(page.getByRole('row').nth(1)).toContainText('berth-planner');
});

test('a source of objects is rehearsed anew without a trace', async ({ page, request }) => {
  await page.goto('/sources/weather');
  const before = (await (await request.get('/api/sources/weather')).json()).objects.length;
  await page.getByRole('button', { name: 'Read again …' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/^From a time/).fill('some day');
  await expect(dialog.getByRole('alert')).toContainText('Not a time. Examples: -2h');
  await expect(dialog.getByRole('button', { name: 'Rehearse only' })).toBeDisabled();
  await dialog.getByLabel(/^From a time/).fill('');
  await dialog.getByRole('button', { name: 'Rehearse only' }).click();
  await expect(dialog).toContainText(/Based on [\d,]+ events read again from weather/);
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  expect((await (await request.get('/api/sources/weather')).json()).objects.length).toBeGreaterThanOrEqual(before);
});

test('a source made by mistake is removed', async ({ page, request }) => {
  await request.post('/api/sources', { data: { name: 'ticket-pinter', kind: 'http' } });
  await page.goto('/sources/ticket-pinter');
  await page.getByRole('button', { name: 'Remove source …' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove source' }).click();
  await expect(page).toHaveURL(/\/sources$/);
  await expect(page.getByRole('link', { name: 'harbour-desk' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'ticket-pinter' })).toBeHidden();
});

test('tiers are dragged into another order, by keyboard and by mouse', async ({ page, request }) => {
  const order = async (): Promise<string[]> => {
    const draft = await (await request.get('/api/plan/draft')).json();
    return (draft?.plan ?? (await (await request.get('/api/plan')).json()).plan).tiers.map(
      ({ id }: { id: string }) => id,
    );
  };
  const before = await order();
  await page.goto('/routing');
  const strip = draftStrip(page);
  await page.getByRole('button', { name: 'Drag Audit trail to another place' }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText('Audit trail is picked up, at its own place.')).toBeAttached();
  // The key has no effect before positions are measured. Pressing it again is harmless, as the tier is at the top then.
  await expect(async () => {
    await page.keyboard.press('ArrowUp');
    await expect(page.getByText('Audit trail is at the place of Incidents.')).toBeAttached({ timeout: 1_000 });
  }).toPass({ timeout: 15_000 });
  await page.keyboard.press('Space');
  await expect(strip).toContainText('1 change');
  expect(await order()).toEqual([before[1], before[0], ...before.slice(2)]);
  const grip = page.getByRole('button', { name: 'Drag Incidents to another place' });
  const from = await grip.boundingBox();
  const to = await page.getByRole('button', { name: 'Drag Audit trail to another place' }).boundingBox();
  if (!from || !to) throw new Error('there is nothing to drag');
  await page.mouse.move(from.x + 5, from.y + 5);
  await page.mouse.down();
  await page.mouse.move(to.x + 5, to.y + 5, { steps: 10 });
  await page.mouse.up();
  // In the order in which it was, there is nothing left to publish.
  await expect(strip).toBeHidden();
  expect(await order()).toEqual(before);
});
