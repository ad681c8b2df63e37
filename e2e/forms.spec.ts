import type { Locator } from '@playwright/test';
import { discardDraft, expect, test } from './application.ts';
import { selectPiece } from './pointing.ts';

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
  const form = page.getByRole('form', { name: 'A new source' });
  await isExplained(form, 'Make the source', /Still to do: .*Give it a name/);
  await saysAt(form, 'Name', 'Ticket Printer', 'small letters, digits and dashes');
  await saysAt(form, 'Labels', 'site', '“site” is no label: write site=pier-4');
  await saysAt(form, 'Files, one pattern a line', 'logs/*.log', 'logs/*.log is no whole path');
  await form.getByRole('button', { name: /^Lines that belong together/ }).click();
  await page.getByRole('option', { name: 'events begin with a pattern' }).click();
  await saysAt(form, 'First lines match', '(', 'This is no pattern');
  await isExplained(form, 'Make the source', /Not yet/);
  // What only the engine knows is said at the field too: which folders may be read.
  await form.getByLabel('Name').fill('elsewhere');
  await form.getByLabel('Labels').fill('site=pier-4');
  await form.getByLabel('First lines match').fill('^x');
  await form.getByLabel('Files, one pattern a line').fill('/etc/**');
  await form.getByRole('button', { name: 'Make the source' }).click();
  await expect(form.getByRole('alert').filter({ hasText: 'SOURCE_FOLDERS' })).toBeVisible();
  await page.getByRole('radio', { name: /^Picked-up objects/ }).check();
  await saysAt(form, 'Address of the list', '192.0.2.7', 'begins with http://');
  await saysAt(form, 'Template of object names, for labels', '{', 'no line template');
  await page.getByRole('radio', { name: /^Syslog/ }).check();
  await saysAt(form, 'Which messages are its own', 'app =', /the condition is wrong: .*character/);
  await form.getByLabel('Which messages are its own').fill('app = x');
  await form.getByLabel('Name').fill('payments');
  await form.getByRole('button', { name: 'Make the source' }).click();
  await expect(form.getByRole('alert').filter({ hasText: 'there is a source of this name already' })).toBeVisible();
});

test('fleets and absences say what is wrong at each field', async ({ page }) => {
  await page.goto('/sources?panel=fleets');
  const fleet = page.getByRole('form', { name: 'A fleet' });
  await saysAt(fleet, 'Name', 'Piers!', 'small letters');
  await saysAt(fleet, 'Which labels', 'site = ', 'the condition is wrong');
  await isExplained(fleet, 'Keep the fleet', /Not yet/);
  await page.goto('/sources?panel=maintenance');
  const absence = page.getByRole('form', { name: 'An absence' });
  await isExplained(absence, 'Announce', /Say what the maintenance is/);
  await saysAt(absence, 'Who', 'source = ', 'the condition is wrong');
  await saysAt(absence, 'From', 'tomorrowish', 'This is no time');
  await saysAt(absence, 'For', '5s', 'A duration of a minute or more');
  await saysAt(absence, 'Again by this schedule (cron, UTC)', 'on Sundays', 'cron expression');
  await absence.getByRole('button', { name: 'Choose a day: From' }).click();
  await page.getByRole('gridcell').getByRole('button').nth(10).click();
  await expect(absence.getByLabel('From', { exact: true })).toHaveValue(/^\d{4}-\d\d-\d\dT00:00$/);
});

test('the facts of a source say what is wrong at each field', async ({ page }) => {
  await page.goto('/sources/harbour-desk');
  await page.getByRole('button', { name: 'Change', exact: true }).click();
  const facts = page.getByRole('form', { name: 'Owner and labels' });
  await saysAt(facts, 'Labels', 'site=piers, prod', '“prod” is no label');
  await saysAt(facts, 'Owner team', 'x'.repeat(65), 'At most 64 characters');
  await isExplained(facts, 'Save', /Not yet/);
  const back = page.getByRole('form', { name: 'When it is expected' });
  await saysAt(back, 'Expected back', '-2h', 'That is over');
});

test('a tier and an exclusion say what is wrong, show what they match, and are edited in all they have', async ({
  page,
  request,
}) => {
  await page.goto('/routing?tier=incidents');
  const tier = page.getByRole('form', { name: 'Tier Incidents' });
  for (const keep of ['-3d', '0d', '15', 'soon'])
    await saysAt(tier, 'Kept for', keep, 'A duration of a minute or more');
  await saysAt(tier, 'Title', 'Audit trail', 'Another one has this title');
  await isExplained(tier, 'Put into the draft', /Not yet/);
  await expect(tier.getByRole('status', { name: 'What it matches' })).toContainText(
    /≈ [\d,]+ events, .* of the last day/,
  );
  const condition = tier.getByRole('textbox', { name: 'Which events the tier takes' });
  await condition.click();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.insertText('severity >=');
  await expect(tier.getByRole('alert').filter({ hasText: 'the condition is wrong' })).toBeVisible();

  await page.getByRole('button', { name: 'Edit Health probes' }).click();
  const exclusion = page.getByRole('form', { name: 'An exclusion' });
  await exclusion.getByRole('button', { name: /^Keep of them/ }).click();
  await page.getByRole('option', { name: 'one in n' }).click();
  await saysAt(exclusion, 'n', '1', 'A whole number from 2');
  await exclusion.getByLabel('n', { exact: true }).fill('20');
  await exclusion.getByLabel('Kept or left out together by').fill('client');
  await exclusion.getByRole('button', { name: 'Put into the draft' }).click();
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
  const link = page
    .getByRole('region', { name: 'Draft' })
    .getByRole('link', { name: /Pipeline “Tide gauges”, step \d/ });
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
  await page.getByRole('region', { name: 'Draft' }).getByRole('button', { name: 'Publish' }).click();
  const form = page.getByRole('form', { name: 'Publish' });
  await isExplained(form, 'Publish', /Say what the change is for/);
  await saysAt(form, 'What is the change for?', ' ', 'Say what the change is for');
  await form.getByRole('button', { name: 'Not yet' }).click();
  await discardDraft(page);
});

test('the palette closes by Esc, and says when nothing is called so', async ({ page }) => {
  await page.goto('/');
  await page.keyboard.press('ControlOrMeta+k');
  await page.getByRole('combobox', { name: 'Where to' }).fill('narwhal');
  await expect(page.getByRole('dialog').getByRole('status')).toContainText('Nothing is called “narwhal”');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toBeHidden();
});

test('a summary and the name of a marked field say what is wrong', async ({ page }) => {
  await page.goto('/explore?w=-2h&view=summary&show=count()');
  const summary = page.getByRole('textbox', { name: 'Summary' });
  await summary.fill('cuont() by source');
  await expect(page.getByRole('alert').filter({ hasText: '(character 1)' })).toBeVisible();
  await expect(summary).toHaveAttribute('aria-invalid', 'true');

  await page.goto('/parsing/tides');
  const line = page.locator('[data-line]').first();
  const bar = await selectPiece(page, line, (await line.textContent()) ?? '', [0, 4]);
  const name = bar.getByLabel('Name of the field');
  await name.fill('my field!');
  await expect(bar.getByRole('alert')).toContainText('make up a name');
  await expect(bar.getByRole('button', { name: 'Make it a field' })).toBeDisabled();
  await name.fill('gauge_name');
  await expect(bar.getByRole('alert')).toHaveCount(0);
  await bar.getByRole('button', { name: 'Leave' }).click();
});
