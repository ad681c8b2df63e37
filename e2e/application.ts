import { test as base } from '@playwright/test';

/** A test with the running application as the base of its addresses; a page's uncaught error fails it. */
export const test = base.extend({
  // biome-ignore lint/correctness/noEmptyPattern: the test runner reads the names out of this pattern
  baseURL: async ({}, use) => {
    await use(process.env.OTTER_URL ?? '');
  },
  page: async ({ page }, use) => {
    const errors: Error[] = [];
    page.on('pageerror', (error) => errors.push(error));
    await use(page);
    if (errors[0]) throw errors[0];
  },
});

export { expect } from '@playwright/test';
