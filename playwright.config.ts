import { defineConfig } from '@playwright/test';
import { installationsAtATime } from './e2e/installations/installations.ts';

/** Files that start a product themselves, the slowest first. */
const bringProducts = ['adding.spec.ts', 'retention-clock.spec.ts', 'from-empty.spec.ts'];
/** Files that change nothing that another test could see. */
const onlyLook = ['screens.spec.ts', 'explore.spec.ts', 'figures.spec.ts', 'why.spec.ts'];
/** Files that measure frame rates and need the machine to themselves. */
const alone = ['whole-store.spec.ts'];

export default defineConfig({
  testDir: 'e2e',
  globalSetup: './e2e/installations/global-setup.ts',
  // Two tests, their applications and browsers may share two slow cores.
  timeout: 120_000,
  expect: { timeout: 25_000 },
  workers: installationsAtATime,
  // Tests that change nothing run first and share one installation; then each worker gets its own.
  projects: [
    { name: 'products of their own', testMatch: bringProducts },
    { name: 'looks', testMatch: onlyLook, fullyParallel: true },
    { name: 'copies', testMatch: 'copies.setup.ts', dependencies: ['products of their own', 'looks'] },
    { name: 'all else', testIgnore: [...bringProducts, ...onlyLook, ...alone], dependencies: ['copies'] },
    { name: 'alone', testMatch: alone, dependencies: ['all else'] },
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
