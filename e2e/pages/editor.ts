import type { Locator, Page } from '@playwright/test';

/** An editor of a condition, a summary, a template or a formula, by its label. */
export function editorOf(where: Page | Locator, label: string): Locator {
  return where.getByRole('textbox', { name: label });
}

/** Writes something in the place of what an editor has. */
export async function rewrite(editor: Locator, text: string): Promise<void> {
  const { keyboard } = editor.page();
  await editor.click();
  await keyboard.press('ControlOrMeta+a');
  await keyboard.insertText(text);
}
