import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['{app,cli,core,store,engine,demo,ui,scripts}/**/*.test.ts'],
    globalSetup: ['engine/testing/global-setup.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    maxWorkers: 2,
  },
});
