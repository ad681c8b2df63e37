import { test as base, expect, type Page } from '@playwright/test';
import { installation } from './installations.ts';

/** A test with the running application as the base of its addresses; a page's uncaught error fails it. */
export const test = base.extend({
  // biome-ignore lint/correctness/noEmptyPattern: the test runner reads the names out of this pattern
  baseURL: async ({}, use) => {
    await use(installation().url);
  },
  // What changes something has to say where it comes from, as a browser does.
  request: async ({ playwright, baseURL }, use) => {
    const origin = baseURL ?? '';
    const context = await playwright.request.newContext({ baseURL: origin, extraHTTPHeaders: { origin } });
    await use(context);
    await context.dispose();
  },
  page: async ({ page, request }, use) => {
    // A draft that another test left would be part of what this one does.
    await request.delete('/api/plan/draft');
    const errors: Error[] = [];
    page.on('pageerror', (error) => errors.push(error));
    await use(page);
    if (errors[0]) throw errors[0];
  },
});

/** Throws the draft away with the strip at the bottom of the page, and waits until it is gone. */
export async function discardDraft(page: Page): Promise<void> {
  const strip = page.getByRole('region', { name: 'Draft' });
  await strip.getByRole('button', { name: 'Discard' }).click();
  // Of a draft with several changes it is asked once more.
  const sure = page.getByRole('button', { name: 'Discard draft' });
  await expect(async () => {
    if (await sure.isVisible()) await sure.click();
    await expect(strip).toBeHidden({ timeout: 500 });
  }).toPass({ timeout: 15_000 });
}

/** Asks with the strip at the bottom of the page to publish the draft; whether that is granted is for the caller to see. */
export async function askToPublish(page: Page, note: string): Promise<void> {
  await page.getByRole('region', { name: 'Draft' }).getByRole('button', { name: 'Publish' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('What is the change for?').fill(note);
  await dialog.getByRole('button', { name: 'Publish', exact: true }).click();
}

/** Publishes the draft with the strip at the bottom of the page, and waits until it is live. */
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
  await expect(page.getByRole('region', { name: 'Draft' })).toBeHidden();
}

export { expect };
