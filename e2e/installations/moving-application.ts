import { spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { countChange } from '#store/cluster/counters.ts';
import { openDatabase } from '#store/database.ts';
import { addToken } from '#store/sources/sources.ts';
import { freeApplicationPorts } from '../../engine/testing/ports.ts';
import { readSettings, startApplication } from '../../scripts/application.mjs';

/** An application without demo data, whose clock can be moved. */
export interface MovingApplication {
  readonly url: string;
  /** Where sources send to. */
  readonly intake: string;
  /** Has its engine and web process take it for so many days later than it is. */
  readonly moveTo: (days: number) => void;
  /** The same by so many milliseconds. */
  readonly moveBy: (time: number) => void;
  /** A token with which a source may bring in history; the source has to be there. */
  readonly historyToken: (source: string) => Promise<string>;
  readonly stop: () => Promise<void>;
}

/** Starts one, on ports and in a folder of its own. Debian's `faketime` is between its processes and the clock. */
export async function startMoving(): Promise<MovingApplication> {
  const folder = mkdtempSync(join(tmpdir(), 'otter-clock-'));
  const clock = join(folder, 'clock');
  const moveBy = (time: number): void => writeFileSync(clock, `+${Math.round(time / 1_000)}\n`);
  moveBy(0);
  const ports = await freeApplicationPorts();
  const hooks = spawnSync('/usr/bin/faketime', ['-m', '-f', '+0d', 'printenv', 'LD_PRELOAD'], { encoding: 'utf8' });
  const moved = {
    LD_PRELOAD: hooks.stdout.trim(),
    FAKETIME_TIMESTAMP_FILE: clock,
    FAKETIME_NO_CACHE: '1',
    // What waits, waits as long as it says.
    FAKETIME_DONT_FAKE_MONOTONIC: '1',
    // It is moved on purpose.
    CLOCK_LEAP: '400d',
    // A short past is enough for tests that load the demo data.
    DEMO_PAST: '1h',
  };
  Object.assign(process.env, moved);
  const started = startApplication(readSettings({ ...ports, DATA_DIR: folder }));
  const application = await started.finally(() => {
    for (const name of Object.keys(moved)) delete process.env[name];
  });
  return {
    url: `http://127.0.0.1:${ports.WEB_PORT}`,
    intake: `http://127.0.0.1:${ports.INTAKE_PORT}`,
    moveTo: (days) => moveBy(days * 86_400_000),
    moveBy,
    historyToken: async (source) => {
      const database = openDatabase(application.databaseUrl, 1);
      const token = randomBytes(16).toString('hex');
      const hash = createHash('sha256').update(token).digest('hex');
      await addToken(database.db, { hash, source, hint: 'test', backfill: true, createdAt: Date.now() });
      await countChange(database.db);
      await database.close();
      return token;
    },
    stop: async () => {
      await application.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
