import { expect, test } from '@playwright/test';
import { copiesVariable } from './installations/global-setup.ts';

test('each worker gets a copy of the installation', async ({ request }) => {
  test.setTimeout(240_000);
  expect((await request.post(process.env[copiesVariable] ?? '', { timeout: 200_000 })).status()).toBe(200);
});
