import type { Locator, Page } from '@playwright/test';

/** A table by its whole name. */
export function tableOf(where: Page | Locator, name: string): Locator {
  return where.getByRole('table', { name, exact: true });
}

/** The row of a table, or of all that there are, that begins or goes on as the name says. */
export function rowOf(where: Page | Locator, name: string | RegExp): Locator {
  return where.getByRole('row', { name });
}
