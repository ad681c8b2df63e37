import type { APIRequestContext } from '@playwright/test';
import { sendManyEvents } from '../engine/testing/many-events.ts';
import { expect, test } from './installations/application.ts';
import { installation } from './installations/installations.ts';
import { editorOf, rewrite } from './pages/editor.ts';

/** Events that are sent, beside the two and a half million of the demo. */
const sent = 2_800_000;

/** Has a new source take in events of the last days, as many as their tier keeps, and returns when all are acknowledged. */
async function fill(request: APIRequestContext): Promise<void> {
  const added = await request.post('/api/sources', { data: { name: 'swell', kind: 'http' } });
  expect(added.status()).toBe(201);
  const { token } = await added.json();
  await sendManyEvents(`${installation().intake}/intake/swell`, token, sent);
}

/** How many frames a second the page draws, over some milliseconds, and the rate that it tells then. */
function measureFrames(time: number): Promise<{ readonly frames: number; readonly rate: string }> {
  return new Promise((resolve) => {
    const begun = performance.now();
    let frames = 0;
    const next = (): void => {
      frames++;
      const passed = performance.now() - begun;
      if (passed < time) requestAnimationFrame(next);
      else resolve({ frames: (frames * 1_000) / passed, rate: document.querySelector('h1')?.textContent ?? '' });
    };
    requestAnimationFrame(next);
  });
}

test('over five million events lines stand before the rest is counted, and Back goes through what was asked', async ({
  page,
  request,
}) => {
  test.setTimeout(300_000);
  await page.goto('/explore?view=arrivals&beside=source%20%3D%20swell&mark=waves');
  await expect(page.getByText(/events\/s/).first()).toBeVisible();
  const filling = fill(request);
  const shown = page.getByRole('region', { name: 'Arrivals: source = swell' });
  await expect(shown.getByRole('listitem').first()).toContainText(/buoy \d+ rides \d+ waves/, { timeout: 30_000 });
  const { frames, rate } = await page.evaluate(measureFrames, 10_000);
  await expect(page.getByText(/1 in [\d,]+ shown/).first()).toBeVisible();
  await filling;
  test.info().annotations.push({ type: 'frames', description: `${frames} frames a second at ${rate}` });
  // Far below what is drawn where nothing else needs the processors: sixty.
  expect(frames).toBeGreaterThan(30);
  const everything = { condition: '', from: '-15d', to: 'now', limit: 0, buckets: 0 };
  const counted = async (): Promise<number> =>
    (await (await request.post('/api/search', { data: everything })).json()).total;
  await expect.poll(counted, { timeout: 30_000 }).toBeGreaterThan(5_000_000);

  // What stood there together is noted as it is drawn: nothing can be missed between two looks.
  await page.addInitScript(() => {
    const look = (): void => {
      const lines = document.querySelectorAll('[aria-label="Found events"] li').length;
      const isReading = /segments read/.test(document.querySelector('[role="status"]')?.textContent ?? '');
      if (lines > 0 && isReading) Reflect.set(window, 'linesWhileReading', lines);
    };
    new MutationObserver(look).observe(document, { subtree: true, childList: true, characterData: true });
  });
  await page.goto('/explore?w=-15d&c=r*');
  await expect(page.getByRole('status').filter({ hasText: /looked into/ })).toBeVisible({ timeout: 30_000 });
  expect(await page.evaluate(() => Reflect.get(window, 'linesWhileReading'))).toBeGreaterThan(0);
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/\d,\d{3},\d{3} events|\d M events|million/);

  const editor = editorOf(page, 'Condition');
  for (const condition of ['buoy = 7', 'buoy = 39 976']) {
    await rewrite(editor, condition);
    await page.keyboard.press('ControlOrMeta+Enter');
    await expect.poll(() => new URL(page.url()).searchParams.get('c')).toBe(condition);
  }
  await page.goBack();
  await expect.poll(() => new URL(page.url()).searchParams.get('c')).toBe('buoy = 7');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('events in', { timeout: 30_000 });
});
