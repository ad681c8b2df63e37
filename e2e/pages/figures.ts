import { expect, type Page } from '@playwright/test';

/** A figure as a screen shows it. */
export interface ShownFigure {
  readonly screen: string;
  readonly name: string;
  /** Name, what it is of, window and unit: figures that are alike in these are one figure. */
  readonly key: string;
  readonly value: number;
  readonly text: string;
}

/** All figures of a screen, once all that it waits for is there. */
export async function figuresOf(page: Page, screen: string): Promise<readonly ShownFigure[]> {
  await page.goto(screen);
  await expect(page.getByRole('heading', { level: 1 }).locator('.animate-pulse')).toHaveCount(0, { timeout: 30_000 });
  await expect(page.getByRole('navigation', { name: 'Stages' }).locator('[data-figure="revision"]')).toBeVisible();
  // The sentence of a search stands once it has been answered.
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('…', { timeout: 30_000 });
  const found = await page.locator('[data-figure]').evaluateAll((marked) =>
    marked.map((element) => {
      const { figure = '', of = '', over = '', unit = '', value = '' } = (element as HTMLElement).dataset;
      return { name: figure, of, over, unit, value: Number(value), text: element.textContent ?? '' };
    }),
  );
  return found.map(({ name, of, over, unit, value, text }) => {
    expect([screen, name, over !== '', unit !== '', Number.isFinite(value)]).toEqual([screen, name, true, true, true]);
    return { screen, name, key: [name, of, over, unit].join(' | '), value, text };
  });
}

/**
 * Figures of one meaning that differ by more than a share of them (`within`, by name where it is another one than usual); none
 * where all screens agree.
 */
export function disagreements(
  figures: readonly ShownFigure[],
  usual: number,
  within: Readonly<Record<string, number>> = {},
): readonly string[] {
  const byKey = new Map<string, ShownFigure[]>();
  for (const figure of figures) byKey.set(figure.key, [...(byKey.get(figure.key) ?? []), figure]);
  return [...byKey].flatMap(([key, shown]) => {
    const values = shown.map(({ value }) => value);
    const [least, most] = [Math.min(...values), Math.max(...values)];
    const name = shown[0]?.name ?? '';
    // A cost is in whole coins: one more may be reached between two reads, however little it is.
    const coins = name === 'cost' ? 1 : 0;
    const allowed = (within[name] ?? usual) * Math.max(Math.abs(most), Math.abs(least));
    if (most - least <= Math.max(coins, allowed)) return [];
    return [`${key}: ${shown.map(({ screen, text }) => `${text} on ${screen}`).join(', ')}`];
  });
}
