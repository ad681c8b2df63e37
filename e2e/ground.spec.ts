import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { APIRequestContext } from '@playwright/test';
import { expect, test } from './installations/application.ts';
import { installation } from './installations/installations.ts';
import {
  discardDraft,
  draftStrip,
  giveNote,
  openPublishing,
  publishButton,
  publishDraft,
  untilPublished,
} from './pages/draft.ts';
import { editorOf, rewrite } from './pages/editor.ts';

/** Stored events of a tier up to a time (milliseconds). */
async function count(request: APIRequestContext, condition: string, tier: string, to: number): Promise<number> {
  const data = { condition, tiers: [tier], from: 0, to, limit: 0 };
  return (await (await request.post('/api/search', { data })).json()).total;
}

test('an open page goes on by itself when the engine is killed', async ({ page, request }) => {
  test.setTimeout(120_000);
  await page.goto('/explore?c=source%20%3D%20gates&w=-1h');
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/\d/);
  await page.evaluate(() => Reflect.set(window, 'mark', 'the same page'));
  const pid = (): number => Number(readFileSync(join(installation().data, 'engine.pid'), 'utf8'));
  const before = pid();
  process.kill(before, 'SIGKILL');
  const course = async (): Promise<boolean> => (await request.get('/api/stages')).ok();
  await expect.poll(course, { timeout: 60_000, intervals: [200] }).toBe(true);
  expect(pid()).not.toBe(before);
  // Events are taken again, and the page asks and is answered without having been loaded anew.
  await rewrite(editorOf(page, 'Condition'), 'source = gates result = open');
  const answer = page.waitForResponse((response) => response.url().endsWith('/api/search') && response.ok());
  await page.keyboard.press('ControlOrMeta+Enter');
  await answer;
  await expect(page.getByRole('heading', { level: 1 })).toContainText(/\d/);
  expect(await page.evaluate(() => Reflect.get(window, 'mark'))).toBe('the same page');
});

test('a tier is shortened with what goes named, taken back within the day, and every event is there', async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const until = Date.now() - 3_600_000;
  const before = await count(request, 'source = timetable', 'bookings', until);
  expect(before).toBeGreaterThan(1_000);
  const { plan } = await (await request.get('/api/plan')).json();
  const tier = plan.tiers.find(({ id }: { id: string }) => id === 'bookings');
  tier.keep = '2d';
  await request.put('/api/plan/draft', { data: { plan } });
  expect((await request.post('/api/plan/draft/publish', { data: { note: 'unsaid' } })).status()).toBe(409);

  await page.goto('/routing');
  const strip = draftStrip(page);
  await expect(strip).toContainText(/deletes [\d,]+ stored events/);
  const dialog = await openPublishing(page);
  await expect(dialog).toContainText(
    /[\d,]+ events \([\d.]+ [kM]?B stored\) from \d+ \w+ 20\d\d to \d+ \w+ 20\d\d will be deleted/,
  );
  await expect(dialog).toContainText('has not been rehearsed');
  await giveNote(dialog, 'Shorter');
  const publish = publishButton(dialog);
  await expect(publish).toBeDisabled();
  await dialog.getByLabel(/^Type Bookings and harbour/).fill('Bookings and harbour');
  await publish.click();
  await untilPublished(page);

  await page.getByRole('link', { name: /^Changes/ }).click();
  const going = page.getByRole('listitem').filter({ hasText: 'Keep events' });
  await expect(going).toContainText(
    /will be deleted on .*: since revision \d+ “Bookings and harbour” keeps events for 2 d/,
  );
  const { revisions } = await (await request.get('/api/plan/revisions')).json();
  await page.getByRole('button', { name: `Restore revision ${revisions[1].number}`, exact: true }).click();
  await publishDraft(page, 'As it was');
  await expect(going).toHaveCount(0);
  expect(await count(request, 'source = timetable', 'bookings', until)).toBe(before);
});

test('a draft that was thrown away is taken up again', async ({ page, request }) => {
  const { plan } = await (await request.get('/api/plan')).json();
  const renamed = plan.tiers.slice(0, 2).map(({ title }: { title: string }) => `tier “${title}” has another title`);
  plan.tiers[0].title = 'First, renamed';
  plan.tiers[1].title = 'Second, renamed';
  await request.put('/api/plan/draft', { data: { plan } });
  await page.goto('/changes');
  await discardDraft(page);
  // Drafts that other tests threw away stand there as well.
  const discarded = page.getByRole('listitem').filter({ hasText: renamed[0] }).filter({ hasText: renamed[1] }).first();
  await discarded.getByRole('button', { name: 'Restore draft' }).click();
  await expect(draftStrip(page)).toContainText('2 changes');
  await discardDraft(page);
});

test('pages run no script but their own, and cannot be framed', async ({ request }) => {
  for (const path of ['/', '/sources', '/parsing', '/routing', '/explore', '/changes']) {
    const answer = await request.get(path);
    const { 'content-security-policy': policy = '', ...headers } = answer.headers();
    const nonce = /'nonce-([^']+)'/.exec(policy)?.[1] ?? '';
    expect(nonce.length).toBeGreaterThan(10);
    expect(policy).toContain("frame-ancestors 'none'");
    expect(policy).not.toMatch(/script-src[^;]*unsafe/);
    expect(headers).toMatchObject({ 'x-content-type-options': 'nosniff', 'referrer-policy': 'same-origin' });
    const scripts = [...(await answer.text()).matchAll(/<script\b[^>]*>/g)].map(([tag]) => tag);
    expect(scripts.length).toBeGreaterThan(0);
    for (const tag of scripts) expect(tag).toContain(`nonce="${nonce}"`);
  }
});
