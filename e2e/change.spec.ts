import { expect, publishDraft, test } from './application.ts';

/** The figure, as a number, in a text such as `kept − 12.5 MB/day` or `33.1 %`. */
function figure(text: string): number {
  return Number(/([\d.]+)\s*(?:%|[kMG]?B)/.exec(text)?.[1]);
}

test('a template is fixed and noise excluded in the draft, rehearsed, published, seen in the Overview, and brought back', async ({
  page,
}) => {
  test.setTimeout(240_000);
  await page.goto('/');
  await page.getByRole('link', { name: /payments lines stopped fitting/ }).click();
  await page.getByRole('link', { name: /^\d+ Payments/ }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('of them fit this step');

  await page.getByRole('button', { name: 'Add a template' }).click();
  const second = page.getByRole('textbox', { name: 'Template 2' });
  await second.click();
  await page.keyboard.press('ControlOrMeta+a');
  await page.keyboard.insertText(
    '{at:iso} {lvl} pay[{worker:int}] {outcome} card={card} settle={amount:number}{currency} acquirer={acquirer} took={took:duration} ref={ref}',
  );
  await expect(page.getByRole('heading', { level: 1 })).toContainText('100 %');
  const strip = page.getByRole('region', { name: 'Draft' });
  await expect(strip).toContainText('1 change');

  await page.getByRole('link', { name: /^Routing/ }).click();
  await page.getByRole('button', { name: 'Bookings and harbour', exact: true }).click();
  const panel = page.getByRole('complementary', { name: 'Bookings and harbour' });
  await panel.getByLabel('What it is').fill('Planner debug lines');
  await panel.getByRole('textbox', { name: 'Which events are noise' }).click();
  await page.keyboard.insertText('source = berth-planner severity = debug');
  await page.keyboard.press('Escape');
  await panel.getByRole('button', { name: 'Add the exclusion' }).click();
  await expect(strip).toContainText('2 changes');

  await strip.getByRole('button', { name: 'Rehearse' }).click();
  const rehearsal = page.getByRole('complementary', { name: 'Rehearsal' });
  await expect(rehearsal).toBeVisible({ timeout: 90_000 });
  await expect(rehearsal.getByRole('row', { name: /^payments/ })).toContainText('100 %');
  await expect(rehearsal.getByRole('row', { name: /^Excluded/ })).toContainText('+');
  const told = await strip.textContent();
  expect(told).toMatch(/kept\s*−/);

  await publishDraft(page, 'Payments 8.3, and no planner debug lines');

  await page.getByRole('link', { name: /^Overview/ }).click();
  await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
  const measured = page.getByRole('table', { name: 'Predicted and measured' });
  await expect(measured).not.toContainText('soon', { timeout: 60_000 });
  // A single group of events is no sample yet: wait until some have come in, less than a minute.
  await expect(async () => {
    const shares = await measured
      .getByRole('row', { name: /^share kept/ })
      .getByRole('cell')
      .allTextContents();
    expect(figure(shares[2] ?? '')).toBeLessThan(figure(shares[0] ?? '') - 8);
  }).toPass({ timeout: 60_000 });
  const kept = measured.getByRole('row', { name: /^share kept/ }).getByRole('cell');
  const [before, predicted, after] = (await kept.allTextContents()).map(figure);
  expect(before).toBeGreaterThan((predicted ?? 0) + 15);
  // A minute of traffic is a small sample: what is kept must have fallen most of the way.
  expect(after).toBeLessThan((before ?? 0) - 8);
  const parsed = measured.getByRole('row', { name: /^parsed/ }).getByRole('cell');
  expect(figure((await parsed.allTextContents())[1] ?? '')).toBeGreaterThan(
    figure((await parsed.allTextContents())[0] ?? ''),
  );

  await page.getByRole('link', { name: /^Changes/ }).click();
  await page.getByRole('button', { name: 'Bring revision 2 back' }).click();
  await expect(strip).toContainText('2 changes');
  await publishDraft(page, 'As it was');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Revision 4', { timeout: 30_000 });
});
