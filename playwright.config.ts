import { defineConfig } from '@playwright/test';

/** Files that start a product themselves, the slowest first. */
const bringProducts = ['adding.spec.ts', 'retention-clock.spec.ts', 'from-empty.spec.ts'];
/** Files that change nothing that another test could see. */
const onlyLook = ['screens.spec.ts', 'explore.spec.ts', 'figures.spec.ts'];

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/global-setup.ts',
  timeout: 60_000,
  expect: { timeout: 15_000 },
  workers: 2,
  // What only looks, or brings a product of its own, goes two at a time; what changes the plan and the store comes after it, one by one.
  projects: [
    { name: 'products of their own', testMatch: bringProducts },
    { name: 'looks', testMatch: onlyLook, fullyParallel: true },
    {
      name: 'all else',
      testIgnore: [...bringProducts, ...onlyLook],
      dependencies: ['products of their own', 'looks'],
      workers: 1,
    },
  ],
  reporter: [['list']],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
