import { expect, type Locator, type Page } from '@playwright/test';

/** Selects characters of a sample line with the mouse, as a person would. */
async function drag(page: Page, line: Locator, start: number, end: number): Promise<void> {
  const [from, to] = await line.evaluate(
    (element, [first, last]) => {
      const range = document.createRange();
      const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
      let at = 0;
      for (let node = walker.nextNode(); node; node = walker.nextNode()) {
        const { length } = node.textContent ?? '';
        if (at <= first && first < at + length) range.setStart(node, first - at);
        if (at < last && last <= at + length) range.setEnd(node, last - at);
        at += length;
      }
      // Text that is selected already would be dragged away instead of being selected anew.
      window.getSelection()?.removeAllRanges();
      element.scrollIntoView({ block: 'center' });
      const rects = [...range.getClientRects()].filter((rect) => rect.width > 0);
      const head = rects[0] as DOMRect;
      const tail = rects[rects.length - 1] as DOMRect;
      return [
        [head.left + 1, head.top + head.height / 2],
        [tail.right - 1, tail.top + tail.height / 2],
      ] as const;
    },
    [start, end] as const,
  );
  await page.mouse.move(from[0], from[1]);
  await page.mouse.down();
  await page.mouse.move(to[0], to[1], { steps: 4 });
  await page.mouse.up();
}

/**
 * Selects a piece of a line until exactly that piece is offered to become a field: an answer that arrives meanwhile may
 * move the lines under the mouse.
 */
export async function selectPiece(
  page: Page,
  line: Locator,
  text: string,
  [start, end]: readonly [number, number],
): Promise<Locator> {
  const bar = page.getByRole('form', { name: 'Create field' });
  await expect(async () => {
    if (await bar.isVisible()) await bar.getByRole('button', { name: 'Cancel' }).click();
    await drag(page, line, start, end);
    await expect(bar.locator('code')).toHaveText(text.slice(start, end), { timeout: 1_000 });
    await expect(line.locator('xpath=ancestor::li').getByRole('form')).toBeVisible({ timeout: 1_000 });
  }).toPass();
  return bar;
}

/**
 * Makes fields of the pieces of a line that the named groups of a pattern find, by pointing at them one after the other
 * and giving each its name; types are left as they are guessed.
 */
export async function pointAt(page: Page, text: string, shape: RegExp): Promise<void> {
  // Found by its text, as its position changes when the sample is updated.
  const line = page.locator('[data-line]', { hasText: text }).first();
  const groups = new RegExp(shape.source, 'd').exec(text)?.indices?.groups;
  if (!groups) throw new Error(`the line is of another kind: ${text}`);
  for (const [name, span] of Object.entries(groups)) {
    // A group that may be missing marks nothing where it is.
    if (!span) continue;
    const bar = await selectPiece(page, line, text, span);
    await bar.getByLabel('Field name').fill(name);
    await bar.getByRole('button', { name: 'Create field' }).click();
    await bar.waitFor({ state: 'detached' });
  }
}
