import type { Page } from '@playwright/test';
import { expect, test } from './installations/application.ts';
import { addFirstToDraft, discardDraft, draftStrip, publishDraft } from './pages/draft.ts';

/** Opens a tier in a page and waits until its fields are there. */
async function openTier(page: Page, title: string): Promise<void> {
  await page.goto('/routing');
  await page.getByRole('button', { name: title, exact: true }).click();
  await expect(page.getByRole('form', { name: `Tier ${title}` })).toBeVisible();
}

async function keepFor(page: Page, keep: string): Promise<void> {
  await page.getByLabel('Retention', { exact: true }).fill(keep);
  await addFirstToDraft(page);
}

test('what two people change at different places stands both; at the same place the later one chooses', async ({
  page,
  browser,
  baseURL,
  request,
}) => {
  test.setTimeout(90_000);
  const other = await (await browser.newContext({ baseURL: baseURL ?? '' })).newPage();
  const tierOf = async (id: string) => {
    const { plan } = await (await request.get('/api/plan/draft')).json();
    return plan.tiers.find((tier: { id: string }) => tier.id === id);
  };

  // Both look at the same plan; one changes how long, the other the title.
  await openTier(page, 'Incidents');
  await openTier(other, 'Incidents');
  await keepFor(page, '40d');
  await expect(draftStrip(page)).toContainText('1 change');
  await other.getByRole('form', { name: 'Tier Incidents' }).getByLabel('Title').fill('Incidents and alarms');
  await addFirstToDraft(other);
  await expect(other.getByText('It has both changes')).toBeVisible();
  await expect
    .poll(async () => await tierOf('incidents'))
    .toMatchObject({ keep: '40d', title: 'Incidents and alarms' });

  // Both change the same; who comes later sees both and chooses.
  await openTier(page, 'Audit trail');
  await openTier(other, 'Audit trail');
  await keepFor(page, '500d');
  await expect.poll(async () => (await tierOf('audit')).keep).toBe('500d');
  await keepFor(other, '600d');
  const dialog = other.getByRole('dialog', { name: 'Someone else changed the same parts' });
  const place = dialog.getByRole('group', { name: 'Tier “Audit trail”, keep' });
  await expect(place).toContainText('600d');
  await expect(place).toContainText('500d');
  await expect(dialog.getByRole('button', { name: 'Continue' })).toBeDisabled();
  await place.getByLabel(/^Mine/).check();
  await dialog.getByRole('button', { name: 'Continue' }).click();
  await expect.poll(async () => (await tierOf('audit')).keep).toBe('600d');
  expect(await tierOf('incidents')).toMatchObject({ keep: '40d', title: 'Incidents and alarms' });
  await other.close();
  await page.goto('/changes');
  await discardDraft(page);
});

test('publishing from a draft that is behind shows what would be undone, and brings it in', async ({
  page,
  request,
}) => {
  test.setTimeout(90_000);
  const { plan, revision } = await (await request.get('/api/plan')).json();
  const renamed = (id: string, title: string) => ({
    ...plan,
    tiers: plan.tiers.map((tier: { id: string }) => (tier.id === id ? { ...tier, title } : tier)),
  });
  try {
    // What another window publishes while a draft is open: the draft is stored away meanwhile, as the API does not let it.
    await request.put('/api/plan/draft', { data: { plan: renamed('incidents', 'Alarms') } });
    await request.delete('/api/plan/draft');
    await request.put('/api/plan/draft', { data: { plan: renamed('audit', 'The audit trail') } });
    await request.post('/api/plan/draft/publish', { data: { note: 'Another title' } });
    const { drafts } = await (await request.get('/api/plan/discarded')).json();
    await request.post(`/api/plan/discarded/${drafts[0].id}`);

    await page.goto('/routing');
    const strip = draftStrip(page);
    await expect(strip).toContainText('1 change');
    await strip.getByRole('button', { name: 'Publish' }).click();
    const dialog = page.getByRole('dialog', { name: 'The live plan has changed' });
    await expect(dialog).toContainText(`is based on revision ${revision}`);
    await expect(dialog).toContainText('tier “Audit trail” has another title');
    await dialog.getByRole('button', { name: 'Update draft' }).click();
    await expect(page.getByText('is based on the live revision now')).toBeVisible();
    await expect(page.getByRole('button', { name: 'The audit trail', exact: true })).toBeVisible();
    await expect(page.getByRole('button', { name: 'Alarms', exact: true })).toBeVisible();
    await publishDraft(page, 'Both titles');
    const after = await (await request.get('/api/plan')).json();
    expect(after.revision).toBe(revision + 2);
    expect(after.plan).toEqual({ ...renamed('audit', 'The audit trail'), tiers: expect.anything() });
  } finally {
    // As it was, for the tests that come after.
    await request.put('/api/plan/draft', { data: { plan } });
    await request.post('/api/plan/draft/publish', { data: { note: 'The titles as they were' } });
  }
});
