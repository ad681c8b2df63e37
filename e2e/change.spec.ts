import { expect, test } from './installations/application.ts';
import { addFirstToDraft, draftStrip, publishDraft } from './pages/draft.ts';
import { editorOf } from './pages/editor.ts';
import { panelOf } from './pages/panel.ts';
import { rowOf } from './pages/table.ts';

test('a template is fixed and noise excluded in the draft, rehearsed, published, seen in the Overview, and brought back', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await page.goto('/');
  await page.getByRole('link', { name: /payments lines stopped fitting/ }).click();
  await page.getByRole('link', { name: /^\d+ Payments/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('of them fit this step');

  const proposed = page.getByRole('region', { name: 'Proposed templates' });
  await expect(proposed.getByRole('listitem').first()).toContainText('with “settle=” instead of “amount=”');
  await addFirstToDraft(proposed);
  await expect(editorOf(page, 'Template 2')).toContainText(
    '{at:iso} {lvl} pay[{worker:int}] {outcome} card={card} settle={amount:number}{currency} acquirer={acquirer}',
  );
  await expect(page.getByRole('heading', { level: 1 })).toContainText('100 %');
  const strip = draftStrip(page);
  await expect(strip).toContainText('1 change');

  await page.getByRole('link', { name: /^Routing/ }).click();
  await page.getByRole('button', { name: 'Bookings and harbour', exact: true }).click();
  const panel = panelOf(page, 'Bookings and harbour');
  await panel
    .getByRole('form', { name: /exclusion/ })
    .getByLabel('Title')
    .fill('Planner debug lines');
  await editorOf(panel, 'Events to exclude').click();
  await page.keyboard.insertText('source = berth-planner severity = debug');
  await page.keyboard.press('Escape');
  await panel.getByRole('button', { name: 'Add exclusion' }).click();
  await expect(strip).toContainText('2 changes');

  await strip.getByRole('button', { name: 'Rehearse' }).click();
  const rehearsal = panelOf(page, 'Rehearsal');
  await expect(rehearsal).toBeVisible({ timeout: 90_000 });
  await expect(rowOf(rehearsal, /^payments/)).toContainText('100 %');
  await expect(rowOf(rehearsal, /^Excluded/)).toContainText('+');
  const reported = await strip.textContent();
  expect(reported).toMatch(/kept\s*−/);

  await publishDraft(page, 'Payments 8.3, and no planner debug lines');

  await page.getByRole('link', { name: /^Overview/ }).click();
  await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
  // A minute and a hundred events are needed for more; until then it says so.
  await expect(page.getByText(/Compared with the prediction from 100 events on; \d+ have arrived\./)).toBeVisible();

  await page.getByRole('link', { name: /^Changes/ }).click();
  await page.getByRole('button', { name: 'Restore revision 2' }).click();
  await expect(strip).toContainText('2 changes');
  await publishDraft(page, 'As it was');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Revision 4', { timeout: 30_000 });
});
