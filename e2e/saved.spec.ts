import { expect, test } from './installations/application.ts';
import { addToDraft } from './pages/draft.ts';
import { editorOf, rewrite } from './pages/editor.ts';
import { panelOf } from './pages/panel.ts';

test('searches stand side by side, and one that was saved is there the next day', async ({ page, request }) => {
  await page.goto('/explore?w=-2h&c=severity%20%3E%3D%20error');
  const searches = page.getByRole('navigation', { name: 'Searches' });
  const editor = page.locator('[data-condition]').first().getByRole('textbox');
  const sentence = page.getByRole('heading', { level: 1 });
  await expect(sentence).toContainText('events in');
  await page.getByRole('button', { name: 'Saved searches …' }).click();
  const panel = panelOf(page, 'Saved searches');
  await expect(panel).toContainText('No saved searches yet.');
  const form = panel.getByRole('form', { name: 'Save search' });
  await form.getByLabel('Name').fill('Bad Name');
  await expect(form).toContainText('lower-case letters');
  await form.getByLabel('Name').fill('bad-events');
  await form.getByLabel('Owner').fill('harbour desk');
  await form.getByRole('button', { name: 'Save search' }).click();
  await expect(panel.getByRole('list', { name: 'Saved searches' })).toContainText('severity >= error · -2h');
  await page.keyboard.press('Escape');

  await searches.getByRole('button', { name: 'Another search' }).click();
  await expect(page).toHaveURL(/tab=/);
  await expect(searches.getByRole('button', { name: 'severity >= error' })).toBeVisible();
  await editor.click();
  await page.keyboard.type('saved:bad-events source = payments');
  await page.keyboard.press('Enter');
  await expect(sentence).toContainText(/event/);
  await searches.getByRole('button', { name: /^Rename/ }).click();
  await page.getByRole('textbox', { name: 'Name of the search' }).fill('Payments in trouble');
  await page.keyboard.press('Enter');

  // The next day, from a bare address.
  await page.clock.setFixedTime(Date.now() + 86_400_000);
  await page.goto('/routing');
  await page.keyboard.press('6');
  await expect(searches.getByRole('button', { name: 'Payments in trouble', exact: true })).toBeVisible();
  await expect(page.locator('[data-condition]').first()).toContainText('severity >= error');
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByRole('combobox', { name: 'Where to' }).fill('bad-ev');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/tab=saved-bad-events/);
  await expect(page.locator('[data-condition]').first()).toContainText('severity >= error');
  await searches.getByRole('button', { name: 'Payments in trouble', exact: true }).click();
  await expect(page.locator('[data-condition]').first()).toContainText('saved:bad-events source = payments');
  await searches.getByRole('button', { name: 'Close Payments in trouble' }).click();
  await expect(searches.getByRole('button', { name: 'Payments in trouble', exact: true })).toBeHidden();
  await request.delete('/api/searches', { data: { name: 'bad-events' } });
  await page.clock.resume();
});

test('in a tier a saved search gives way to its condition, and what can hardly be meant is reported', async ({
  page,
  request,
}) => {
  await request.put('/api/searches', { data: { name: 'noise', condition: 'severity = debug', window: '-1h' } });
  const tier = async (): Promise<string> => {
    const draft = await (await request.get('/api/plan/draft')).json();
    return draft?.plan.tiers.find(({ id }: { id: string }) => id === 'incidents').when;
  };
  await page.goto('/routing?tier=incidents');
  const panel = panelOf(page, /Incidents/);
  const editor = editorOf(panel, 'Which events the tier takes');
  const write = async (text: string): Promise<void> => {
    await rewrite(editor, text);
  };
  await write('source = paymens or severity >= errr');
  const doubts = panel.getByRole('list', { name: 'Doubts' });
  await expect(doubts).toContainText('There is no source paymens');
  await doubts.getByRole('button', { name: 'payments' }).click();
  await expect(editor).toContainText('source = payments or severity >= errr');
  await expect(doubts).toContainText('There is no severity errr');
  await write('not saved:noise severity >= error');
  await expect(editor).toContainText('not (severity = debug) severity >= error');
  await expect(doubts).toBeHidden();
  await addToDraft(panel);
  await expect.poll(tier).toBe('not (severity = debug) severity >= error');
  await request.delete('/api/plan/draft');
  await request.delete('/api/searches', { data: { name: 'noise' } });
});
