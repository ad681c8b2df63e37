import { expect, test } from './installations/application.ts';
import { discardDraft, draftStrip } from './pages/draft.ts';
import { panelOf } from './pages/panel.ts';
import { rowOf } from './pages/table.ts';

test('everything about an event: what it says, how it arrived, which way it went, and as a test', async ({
  page,
  request,
}) => {
  await page.goto('/explore?w=-30m&c=source%20%3D%20payments%20has%20took');
  const events = page.getByRole('region', { name: 'Found events' });
  await events.getByRole('button', { expanded: false }).first().click();
  await events.getByRole('button', { name: 'Details' }).click();
  await expect(page).toHaveURL(/event=\d+-[0-9a-f]{8}/);
  const panel = panelOf(page, 'Event');
  const way = panel.getByRole('listitem');
  await expect(way.first()).toContainText('from payments');
  await expect(panel).toContainText(/revision \d+, which was live when it arrived/);
  await expect(rowOf(panel, /^took/)).toContainText('duration');
  // The address is the event's, also for someone else.
  await page.reload();
  await expect(way.first()).toContainText('from payments');
  await panel
    .getByRole('row', { name: /^source/ })
    .getByRole('button')
    .click();
  await expect(page.locator('[data-condition]').first()).toContainText('has took source = payments');

  const keep = panel.getByRole('button', { name: /^Keep as a test of/ });
  if (await keep.isVisible()) {
    await keep.click();
    await expect(draftStrip(page)).toContainText('1 change');
    const { problems } = await (await request.get('/api/plan/draft')).json();
    expect(problems).toEqual([]);
    await discardDraft(page);
  }
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
  await page.goto('/explore?event=1795680000000-00000000');
  await expect(panel.getByRole('alert')).toContainText('It is not stored');
});

test('what happened around an event, of its emitter, its source or all, further in both directions', async ({
  page,
}) => {
  await page.goto('/explore?w=-3h&c=source%20%3D%20gates');
  const events = page.getByRole('region', { name: 'Found events' });
  await events.getByRole('button', { expanded: false }).nth(5).click();
  await events.getByRole('button', { name: 'What happened around it' }).click();
  const around = page.getByRole('region', { name: 'Around the event' });
  await expect(around.getByText('this event')).toBeVisible();
  const rows = around.getByRole('listitem');
  await expect.poll(() => rows.count()).toBeGreaterThan(20);
  const ofEmitter = await rows.count();
  await around.getByRole('button', { name: '25 more, earlier' }).click();
  await expect.poll(() => rows.count()).toBeGreaterThan(ofEmitter);

  await around.getByRole('radio', { name: 'of everything' }).click();
  await expect(page).toHaveURL(/of=everything/);
  await expect.poll(() => rows.filter({ hasNotText: 'gates' }).count()).toBeGreaterThan(0);
  await expect(around.getByText('this event')).toBeVisible();
  const before = around.getByText(/^−/).first();
  await expect(before).toBeVisible();
  // Another event is looked at, and the one in the middle stays.
  await rows.last().getByRole('button').click();
  await expect(panelOf(page, 'Event')).toContainText(/into/);
  await expect(around.getByText('this event')).toBeVisible();
  await page.goBack();
  await page.goBack();
  await expect(page).not.toHaveURL(/of=everything/);
  await around.getByRole('button', { name: 'Back to results' }).click();
  await expect(events).toBeVisible();
});

test('a field is taken out of bodies for one search, and the template goes into the draft', async ({
  page,
  request,
}) => {
  await page.goto('/explore?w=-1h&c=source%20%3D%20gates%20ticket');
  const events = page.getByRole('region', { name: 'Found events' });
  await events.getByRole('button', { expanded: false }).first().click();
  const body = events.locator('[data-body]');
  await expect(body).toContainText(/^ticket SKL-\d+ \w+ in \d+ ms$/);
  // The number of the ticket is selected, as with the mouse.
  await body.evaluate((element) => {
    const text = element.firstChild;
    if (!text) throw new Error('there is no text');
    const [at, end] = [text.textContent?.indexOf('SKL-') ?? 0, text.textContent?.indexOf(' ', 8) ?? 0];
    window.getSelection()?.setBaseAndExtent(text, at + 4, text, end);
    element.dispatchEvent(new MouseEvent('mouseup', { bubbles: true }));
  });
  await events.getByRole('textbox', { name: 'Field name' }).fill('booking_number');
  await events.getByRole('button', { name: 'Create field' }).click();
  await expect(page).toHaveURL(/with=/);
  const row = page.locator('[data-extraction]');
  await expect(row).toContainText('booking_number');
  await expect(events.getByRole('term').filter({ hasText: 'booking_number' })).toBeVisible();
  // It is a field as any other: of conditions, of summaries, of what the events have in common.
  const editor = page.locator('[data-condition]').first().getByRole('textbox');
  await editor.click();
  await page.keyboard.press('End');
  await page.keyboard.insertText(' booking_number > 50000');
  await page.keyboard.press('ControlOrMeta+Enter');
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/events in/);
  await expect(page.getByRole('list', { name: 'Doubts' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'booking_number', exact: true })).toBeVisible();

  await row.getByRole('button', { name: 'Add step to draft' }).click();
  await expect(draftStrip(page)).toContainText('1 change');
  const { plan, problems } = await (await request.get('/api/plan/draft')).json();
  expect(problems).toEqual([]);
  const gates = plan.pipelines.find(({ when }: { when: string }) => when.includes('gates'));
  expect(gates.steps.at(-1).extract.template).toContain('{booking_number');
  await row.getByRole('button', { name: 'Remove' }).click();
  await expect(row).toBeHidden();
  await discardDraft(page);
});
