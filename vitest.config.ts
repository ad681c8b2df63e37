import { readFileSync } from 'node:fs';
import { globSync } from 'tinyglobby';
import { defineConfig } from 'vitest/config';

const files = globSync('{app,cli,core,store,engine,demo,ui,scripts}/**/*.test.ts');

/** What a test uses that needs MariaDB, a built engine or the whole application. */
const servers = /\binject\('mariadb'\)|\b(startEngine|startDatabase|startApplication|newDatabase)\b|'\.build\//;

const needsServer = files.filter((file) => servers.test(readFileSync(file, 'utf8')));
const rest = files.filter((file) => !needsServer.includes(file));

/** Files share two processes: starting one for each, which loads everything anew, takes longer than most of them. */
const shared = { isolate: false, testTimeout: 120_000 };

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      { test: { ...shared, name: 'units', include: rest } },
      {
        test: {
          ...shared,
          name: 'servers',
          include: needsServer,
          // Engines of tests answer a few searches: compiling for many takes longer than answering them.
          env: { WARM_UP: 'off' },
          globalSetup: ['engine/testing/global-setup.ts'],
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
