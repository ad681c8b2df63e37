import type { APIRequestContext } from '@playwright/test';
import { day, minute } from '#core/events/time-units.ts';
import { test as base, expect } from './installations/application.ts';
import { type MovingApplication, startMoving } from './installations/moving-application.ts';
import { addToDraft, draftStrip, giveNote, openPublishing, publishButton, untilPublished } from './pages/draft.ts';

const eventsADay = 400;

/** Has a source send days of events, each day the same many, and returns when all are acknowledged. */
async function send({ intake }: MovingApplication, token: string, from: number, to: number): Promise<void> {
  for (let start = from; start < to; start += day) {
    const lines = Array.from({ length: eventsADay }, (_, i) => {
      const time = new Date(start + 5 * minute + i * 3 * minute).toISOString();
      return `{"time":"${time}","msg":"buoy ${(i * 31) % 97} rides ${(i * 17) % 89} waves of ${(i * 7) % 41} cm"}`;
    });
    const post = async (): Promise<number> => {
      const headers = {
        authorization: `Bearer ${token}`,
        'content-type': 'application/x-ndjson',
        'otter-backfill': 'now',
      };
      return (await fetch(`${intake}/intake/swell`, { method: 'POST', headers, body: lines.join('\n') })).status;
    };
    // The engine hears of a token that was made elsewhere after a moment; it takes nothing until then.
    await expect.poll(post).toBe(200);
  }
}

const prices = `prices: 1
currency: { sign: cr, digits: 2 }
entries:
  - from: 2020-01-01
    received: 900000
    kept: [{ days: 3, price: 9000 }, { days: 15, price: 90000 }]
    stored: 90000000
`;

/** The amounts in a text, in coins. */
const coinsIn = (text: string): readonly number[] =>
  [...text.matchAll(/cr\s([\d,]+(?:\.\d\d)?)/g)].map(([, number = '']) =>
    Math.round(Number(number.replaceAll(',', '')) * 100),
  );

const test = base.extend<object, { application: MovingApplication }>({
  application: [
    // biome-ignore lint/correctness/noEmptyPattern: the test runner reads the names out of this pattern
    async ({}, use) => {
      const application = await startMoving();
      await use(application);
      await application.stop();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
  baseURL: async ({ application }, use) => {
    await use(application.url);
  },
});

async function costOfDays(request: APIRequestContext, from: number, to: number) {
  const [first, end] = [from, to].map((time) => new Date(time).toISOString().slice(0, 10));
  const { rows } = await (await request.get(`/api/costs?by=tier&from=${first}&to=${end}`)).json();
  const row = rows.find(({ keys: [tier] }: { keys: readonly string[] }) => tier === 'rest');
  return { received: row?.received ?? 0, intake: row?.received + row?.kept, storage: row?.stored };
}

/** Waits until days have come in, each of which has the same lines. */
async function untilCounted(request: APIRequestContext, days: number, to: number): Promise<void> {
  const received = async (count: number) => (await costOfDays(request, to - count * day, to)).received;
  await expect.poll(async () => (await received(days)) / (await received(1)), { timeout: 30_000 }).toBeCloseTo(days, 1);
}

test('a tier keeps seven days instead of fifteen: what that costs, and when, comes to what was predicted', async ({
  application,
  page,
  request,
}) => {
  test.setTimeout(180_000);
  const began = Math.floor(Date.now() / day) * day;
  const { plan } = await (await request.get('/api/plan')).json();
  const [rest] = plan.tiers;
  await request.put('/api/plan/draft', { data: { plan: { ...plan, tiers: [{ ...rest, keep: '15d' }] } } });
  expect((await request.post('/api/plan/draft/publish', { data: { note: 'Fifteen days' } })).status()).toBe(200);
  expect((await request.put('/api/prices', { data: { text: prices } })).status()).toBe(200);
  expect((await request.post('/api/sources', { data: { name: 'swell', kind: 'http' } })).status()).toBe(201);
  const token = await application.historyToken('swell');
  // Two weeks later.
  application.moveTo(15);
  const midnight = began + 15 * day;

  await page.goto(`/routing?tier=${rest.id}`);
  await expect(page.getByText('The cost of its retention appears after a week of data.')).toBeVisible();
  await send(application, token, midnight - 14 * day, midnight);
  const costs = page.getByRole('status', { name: 'Cost of retention' });
  await expect(costs).toContainText('per 30 days at last week’s volume', { timeout: 30_000 });
  await untilCounted(request, 14, midnight);
  await page.reload();
  await page.getByLabel('Retention', { exact: true }).fill('7d');
  await expect(costs).toContainText(/Kept for 7d, from/);
  const prediction = (await costs.textContent()) ?? '';
  const [, intake = 0, storage = 0, settled = 0, settledIntake = 0, settledStorage = 0] = coinsIn(prediction);
  expect(settledIntake).toBeLessThan(intake);
  expect(settledStorage).toBeLessThan(storage);
  const settledOn = midnight + 2 * day;
  const word = new Date(settledOn).toLocaleString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
  expect(prediction).toContain(word);
  await addToDraft(page);
  const strip = draftStrip(page);
  await expect(strip).toContainText(/deletes [\d,]+ stored events/);
  const dialog = await openPublishing(page);
  await giveNote(dialog, 'A week is enough');
  await dialog.getByLabel(/^Type .* to delete them$/).fill(rest.title);
  await publishButton(dialog).click();
  await untilPublished(page);

  // Time goes on, and so does what comes; a week after it has settled it is measured.
  application.moveTo(15 + 6);
  await send(application, token, midnight, midnight + 6 * day);
  application.moveTo(15 + 10);
  await send(application, token, midnight + 6 * day, midnight + 10 * day);
  const measured = async () => await costOfDays(request, settledOn, settledOn + 7 * day);
  const inAMonth = (coins: number): number => (coins * 30) / 7;
  await expect
    .poll(async () => inAMonth((await measured()).intake), { timeout: 30_000 })
    .toBeCloseTo(settledIntake, -1);
  const after = await measured();
  // A month has 30 or 31 days, and no two days are packed to the same size.
  expect(Math.abs(inAMonth(after.storage) / settledStorage - 1)).toBeLessThan(0.06);
  expect(Math.abs(inAMonth(after.intake + after.storage) / settled - 1)).toBeLessThan(0.03);
  // Costs are cached for ten seconds, so the last day may be missing at first.
  await expect(async () => {
    await page.goto(`/routing?tier=${rest.id}`);
    await expect(page.getByLabel('Retention', { exact: true })).toHaveValue('7d');
    await expect(costs).toContainText('per 30 days at last week’s volume');
    const [now = 0] = coinsIn((await costs.textContent()) ?? '');
    expect(Math.abs(now / settled - 1)).toBeLessThan(0.03);
  }).toPass({ timeout: 45_000 });
});
