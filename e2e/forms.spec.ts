import type { Locator } from '@playwright/test';
import { expect, test } from './installations/application.ts';
import { addToDraft, discardDraft, draftStrip, openPublishing } from './pages/draft.ts';
import { editorOf, rewrite } from './pages/editor.ts';
import { panelOf } from './pages/panel.ts';
import { selectPiece } from './pages/pointing.ts';

/** Types something wrong into a field: what is wrong is said at the field, and the button says that it is not yet time. */
async function saysAt(form: Locator, label: string, typed: string, message: string | RegExp): Promise<void> {
  const field = form.getByLabel(label, { exact: true });
  await field.fill(typed);
  const alert = form.getByRole('alert').filter({ hasText: message });
  await expect(alert).toBeVisible();
  await expect(field).toHaveAttribute('aria-invalid', 'true');
  const described = (await field.getAttribute('aria-describedby')) ?? '';
  expect(described).toContain((await alert.getAttribute('id')) ?? 'nothing');
}

/** Pressed too early, the button sends nothing, and leads to the first field that is not right yet. */
async function isExplained(form: Locator, name: string, message: string | RegExp): Promise<void> {
  const button = form.getByRole('button', { name, exact: true });
  await expect(button).toHaveAttribute('aria-disabled', 'true');
  await expect(button).toHaveAccessibleDescription(message);
}

test('a new source says what is wrong at each field', async ({ page }) => {
  await page.goto('/sources?connect=1&kind=files');
  const form = page.getByRole('form', { name: 'New source' });
  await isExplained(form, 'Create source', /Still needed: .*Enter a name/);
  await saysAt(form, 'Name', 'Ticket Printer', 'lower-case letters, digits and dashes');
  await saysAt(form, 'Labels', 'site', '“site” is not a label. Example: site=pier-4');
  await saysAt(form, 'Files, one pattern per line', 'logs/*.log', 'logs/*.log is not an absolute path');
  await form.getByRole('button', { name: /^Multi-line records/ }).click();
  await page.getByRole('option', { name: 'events begin with a pattern' }).click();
  await saysAt(form, 'First line matches', '(', 'Not a pattern');
  await isExplained(form, 'Create source', /Fix first/);
  // What only the engine knows is said at the field too: which folders may be read.
  await form.getByLabel('Name').fill('elsewhere');
  await form.getByLabel('Labels').fill('site=pier-4');
  await form.getByLabel('First line matches').fill('^x');
  await form.getByLabel('Files, one pattern per line').fill('/etc/**');
  await form.getByRole('button', { name: 'Create source' }).click();
  await expect(form.getByRole('alert').filter({ hasText: 'SOURCE_FOLDERS' })).toBeVisible();
  await page.getByRole('radio', { name: /^Picked-up objects/ }).check();
  await saysAt(form, 'Address of the list', '192.0.2.7', 'begins with http://');
  await saysAt(form, 'Template of object names, for labels', '{', 'ot a line template');
  await page.getByRole('radio', { name: /^Syslog/ }).check();
  await saysAt(form, 'Messages of this source', 'app =', /the condition is wrong: .*character/);
  await form.getByLabel('Messages of this source').fill('app = x');
  await form.getByLabel('Name').fill('payments');
  await form.getByRole('button', { name: 'Create source' }).click();
  await expect(form.getByRole('alert').filter({ hasText: 'there is a source of this name already' })).toBeVisible();
});

test('fleets and absences say what is wrong at each field', async ({ page }) => {
  await page.goto('/sources?panel=fleets');
  const fleet = page.getByRole('form', { name: 'New fleet' });
  await saysAt(fleet, 'Name', 'Piers!', 'lower-case letters');
  await saysAt(fleet, 'Labels', 'site = ', 'the condition is wrong');
  await isExplained(fleet, 'Save fleet', /Fix first/);
  await page.goto('/sources?panel=maintenance');
  const absence = page.getByRole('form', { name: 'New window' });
  await isExplained(absence, 'Announce', /Enter a reason/);
  await saysAt(absence, 'Who', 'source = ', 'the condition is wrong');
  await saysAt(absence, 'From', 'tomorrowish', 'Not a time');
  await saysAt(absence, 'For', '5s', 'A duration of a minute or more');
  await saysAt(absence, 'Repeat (cron, UTC)', 'on Sundays', 'cron expression');
  await absence.getByRole('button', { name: 'Choose a day: From' }).click();
  await page.getByRole('gridcell').getByRole('button').nth(10).click();
  await expect(absence.getByLabel('From', { exact: true })).toHaveValue(/^\d{4}-\d\d-\d\dT00:00$/);
});

test('the facts of a source say what is wrong at each field', async ({ page }) => {
  await page.goto('/sources/harbour-desk');
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  const facts = page.getByRole('form', { name: 'Owner and labels' });
  await saysAt(facts, 'Labels', 'site=piers, prod', '“prod” is not a label');
  await saysAt(facts, 'Owner team', 'x'.repeat(65), 'At most 64 characters');
  await isExplained(facts, 'Save', /Fix first/);
  const back = page.getByRole('form', { name: 'Expected back at' });
  await saysAt(back, 'Expected back', '-2h', 'This time has passed');
});

test('a tier and an exclusion say what is wrong, show what they match, and are edited in all they have', async ({
  page,
  request,
}) => {
  await page.goto('/routing?tier=incidents');
  const tier = page.getByRole('form', { name: 'Tier Incidents' });
  for (const keep of ['-3d', '0d', '15', 'soon'])
    await saysAt(tier, 'Retention', keep, 'A duration of a minute or more');
  await saysAt(tier, 'Title', 'Audit trail', 'Another tier has this title');
  await isExplained(tier, 'Add to draft', /Fix first/);
  await expect(tier.getByRole('status', { name: 'Matching events' })).toContainText(
    /≈ [\d,]+ events, .* of the last day/,
  );
  const condition = editorOf(tier, 'Which events the tier takes');
  await rewrite(condition, 'severity >=');
  await expect(tier.getByRole('alert').filter({ hasText: 'the condition is wrong' })).toBeVisible();

  await page.getByRole('button', { name: 'Edit Health probes' }).click();
  const exclusion = page.getByRole('form', { name: 'Exclusion' });
  await exclusion.getByRole('button', { name: /^Keep/ }).click();
  await page.getByRole('option', { name: '1 in n' }).click();
  await saysAt(exclusion, 'n', '1', 'A whole number from 2');
  await exclusion.getByLabel('n', { exact: true }).fill('20');
  await exclusion.getByLabel('Sample together by').fill('client');
  await addToDraft(exclusion);
  await expect(page.getByText('together by client')).toBeVisible();
  const { plan } = await (await request.get('/api/plan/draft')).json();
  expect(JSON.stringify(plan)).toContain('"keep":"1 in 20","by":"client"');
  const many = page.getByRole('spinbutton', { name: 'n', exact: true });
  for (const n of ['1', '0', '-4', '2.5']) {
    await many.fill(n);
    await expect(page.getByText('A whole number from 2 to 1,000,000. 1 in 20 stands.')).toBeVisible();
    await expect(many).toHaveAttribute('aria-invalid', 'true');
  }
  await many.fill('30');
  await expect(page.getByText('A whole number from 2')).toHaveCount(0);
  await discardDraft(page);
});

test('a problem of the draft says where it is, and its link puts the cursor there', async ({ page, request }) => {
  const { plan } = await (await request.get('/api/plan')).json();
  const broken = {
    ...plan,
    pipelines: plan.pipelines.map((pipeline: { id: string; steps: object[] }) =>
      pipeline.id === 'tides'
        ? { ...pipeline, steps: [...pipeline.steps, { convert: { field: 'height' }, when: 'a =' }] }
        : pipeline,
    ),
  };
  await request.put('/api/plan/draft', { data: { plan: broken } });
  await page.goto('/routing');
  const link = draftStrip(page).getByRole('link', { name: /Pipeline “Tide gauges”, step \d/ });
  await expect(link).toContainText(/step \d+ \(convert\), (when|to)/);
  await link.click();
  await expect(page).toHaveURL(/\/parsing\/tides\?step=\d/);
  await expect(page.getByLabel('Only events for which')).toBeFocused();
  await expect(
    page
      .getByRole('alert')
      .filter({ hasText: /expected/ })
      .first(),
  ).toBeVisible();
  await discardDraft(page);
});

test('publishing says what is missing at the field', async ({ page, request }) => {
  const { plan } = await (await request.get('/api/plan')).json();
  plan.tiers[0].title = 'Another title';
  await request.put('/api/plan/draft', { data: { plan } });
  await page.goto('/changes');
  await openPublishing(page);
  const form = page.getByRole('form', { name: 'Publish' });
  await isExplained(form, 'Publish', /Say what the change is for/);
  await saysAt(form, 'What is the change for?', ' ', 'Say what the change is for');
  await form.getByRole('button', { name: 'Cancel' }).click();
  await discardDraft(page);
});

test('Esc in an editor leaves the editor, and only the next Esc closes the panel', async ({ page }) => {
  await page.goto('/routing?tier=rest');
  const panel = panelOf(page, 'Everything else');
  const editor = editorOf(panel, 'Events to exclude');
  await editor.fill('"is free"');
  // The first Esc may only close the list of completions.
  await expect(async () => {
    await page.keyboard.press('Escape');
    await expect(editor).not.toBeFocused({ timeout: 500 });
  }).toPass();
  await expect(editor).toHaveText('"is free"');
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
});

test('the palette closes by Esc, and says when nothing is called so', async ({ page }) => {
  await page.goto('/');
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByRole('combobox', { name: 'Where to' }).fill('narwhal');
  await expect(page.getByRole('dialog').getByRole('status')).toContainText('No match for “narwhal”');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
});

test('a summary and the name of a marked field say what is wrong', async ({ page }) => {
  await page.goto('/explore?w=-2h&view=summary&show=count()');
  const summary = editorOf(page, 'Summary');
  await summary.fill('cuont() by source');
  await expect(page.getByRole('alert').filter({ hasText: '(character 1)' })).toBeVisible();
  await summary.fill('count() by source');
  await expect(page.getByRole('alert').filter({ hasText: '(character' })).toBeHidden();

  await page.goto('/parsing/tides');
  const line = page.locator('[data-line]').first();
  const bar = await selectPiece(page, line, (await line.textContent()) ?? '', [0, 4]);
  const name = bar.getByLabel('Field name');
  await name.fill('my field!');
  await expect(bar.getByRole('alert')).toContainText('A name has letters');
  await expect(bar.getByRole('button', { name: 'Create field' })).toBeDisabled();
  await name.fill('gauge_name');
  await expect(bar.getByRole('alert')).toHaveCount(0);
  await bar.getByRole('button', { name: 'Cancel' }).click();
});
