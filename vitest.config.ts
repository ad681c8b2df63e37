import { readFileSync } from 'node:fs';
import { globSync } from 'tinyglobby';
import { defineConfig } from 'vitest/config';

const files = globSync('{app,cli,core,store,engine,demo,ui,scripts}/**/*.test.ts');

/** What a test uses that needs MariaDB, a built engine or the whole application. */
const servers = /\binject\('mariadb'\)|\b(startEngine|startDatabase|startApplication|newDatabase)\b|'\.build\//;

const needsServer = files.filter((file) => servers.test(readFileSync(file, 'utf8')));
const rest = files.filter((file) => !needsServer.includes(file));

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      { test: { name: 'units', include: rest, testTimeout: 120_000 } },
      {
        test: {
          name: 'servers',
          include: needsServer,
          globalSetup: ['engine/testing/global-setup.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
