import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/global-setup.ts',
  timeout: 60_000,
  expect: { timeout: 15_000 },
  workers: 2,
  // Screens are only looked at, two at a time; what changes the plan and the store comes after them, one by one.
  projects: [
    { name: 'screens', testMatch: 'screens.spec.ts', fullyParallel: true },
    { name: 'all else', testIgnore: 'screens.spec.ts', dependencies: ['screens'], workers: 1 },
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
