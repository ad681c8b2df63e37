import type { Locator, Page } from '@playwright/test';

/** The panel at the side of a page that has a name. */
export function panelOf(page: Page, name: string | RegExp): Locator {
  return page.getByRole('complementary', { name });
}
