import { expect, type Locator, type Page } from '@playwright/test';

/** The strip at the bottom of a page with what the draft changes. */
export function draftStrip(page: Page): Locator {
  return page.getByRole('region', { name: 'Draft' });
}

/** Adds what a form says to the draft. */
export async function addToDraft(where: Page | Locator): Promise<void> {
  await where.getByRole('button', { name: 'Add to draft' }).click();
}

/** Adds the first of several proposals to the draft. */
export async function addFirstToDraft(where: Page | Locator): Promise<void> {
  await where.getByRole('button', { name: 'Add to draft' }).first().click();
}

/** Throws the draft away, and waits until it is gone. */
export async function discardDraft(page: Page): Promise<void> {
  const strip = draftStrip(page);
  await strip.getByRole('button', { name: 'Discard' }).click();
  // Of a draft with several changes it is asked once more.
  const sure = page.getByRole('button', { name: 'Discard draft' });
  await expect(async () => {
    if (await sure.isVisible()) await sure.click();
    await expect(strip).toBeHidden({ timeout: 500 });
  }).toPass({ timeout: 15_000 });
}

/** Opens the dialog in which the draft is published. */
export async function openPublishing(page: Page): Promise<Locator> {
  await draftStrip(page).getByRole('button', { name: 'Publish' }).click();
  return page.getByRole('dialog');
}

/** The button that publishes, in an open dialog. */
export function publishButton(dialog: Locator): Locator {
  return dialog.getByRole('button', { name: 'Publish', exact: true });
}

/** Says in an open dialog what the change is for. */
export async function giveNote(dialog: Locator, note: string): Promise<void> {
  await dialog.getByLabel('What is the change for?').fill(note);
}

/** Asks for the draft to be published; whether that is granted is for the caller to see. */
export async function askToPublish(page: Page, note: string): Promise<void> {
  const dialog = await openPublishing(page);
  await giveNote(dialog, note);
  await publishButton(dialog).click();
}

/** Publishes the draft, and waits until it is live. */
export async function publishDraft(page: Page, note: string): Promise<void> {
  await askToPublish(page, note);
  await untilPublished(page);
}

/**
 * Waits until the dialog of publishing has gone, and the draft with it. An open dialog takes the strip out of reach as
 * well, so its own end is waited for first.
 */
export async function untilPublished(page: Page): Promise<void> {
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(draftStrip(page)).toBeHidden();
}
