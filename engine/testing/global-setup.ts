import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { startDatabase } from '../../scripts/database.mjs';
import { freePort } from './ports.ts';

declare module 'vitest' {
  interface ProvidedContext {
    /** Address of the MariaDB of this test run, with no database named. */
    readonly mariadb: string;
  }
}

/** One MariaDB for the whole run; each test makes its own database in it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'otter-test-'));
  const port = await freePort();
  const database = await startDatabase(folder, port, { quick: true, rights: '*.*' });
  project.provide('mariadb', database.server);
  return async () => {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
