import { test as base, expect } from '@playwright/test';
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

export { expect };
