import { test as base, expect, type Page } from '@playwright/test';

/** A test with the running application as the base of its addresses; a page's uncaught error fails it. */
export const test = base.extend({
  // biome-ignore lint/correctness/noEmptyPattern: the test runner reads the names out of this pattern
  baseURL: async ({}, use) => {
    await use(process.env.OTTER_URL ?? '');
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
  const sure = page.getByRole('button', { name: 'Discard the draft' });
  await expect(async () => {
    if (await sure.isVisible()) await sure.click();
    await expect(strip).toBeHidden({ timeout: 500 });
  }).toPass({ timeout: 15_000 });
}

export { expect };
