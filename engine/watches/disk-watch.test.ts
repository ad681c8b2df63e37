import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, statfsSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { countChange } from '#store/cluster/counters.ts';
import { openDatabase } from '#store/database.ts';
import { addToken, saveSource } from '#store/sources/sources.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { readSettings, startApplication } from '../../scripts/application.mjs';
import { freeApplicationPorts } from '../testing/ports.ts';

/** A small disk of its own; where nobody may mount one there is nothing to fill. */
const folder = mkdtempSync(join(tmpdir(), 'otter-disk-'));
const isMounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=900M', 'tmpfs', folder]).status === 0;
const reserve = 150_000_000;
const filling = join(folder, 'filling');

type Application = Awaited<ReturnType<typeof startApplication>>;
let application: Application;
let intake: string;
let syslog: number;

beforeAll(async () => {
  if (!isMounted) return;
  const ports = await freeApplicationPorts();
  intake = `http://127.0.0.1:${ports.INTAKE_PORT}`;
  syslog = Number(ports.SYSLOG_PORT);
  vi.stubEnv('DISK_RESERVE', `${reserve}B`);
  vi.stubEnv('LOG_LEVEL', 'fatal');
  const settings = readSettings({ ...ports, DATA_DIR: join(folder, 'data') });
  application = await startApplication(settings, { web: false, output: 'ignore' });
  vi.unstubAllEnvs();
  const database = openDatabase(application.databaseUrl, 1);
  const parts = { kind: 'http', format: 'auto', owner: '', labels: {}, accepts: '', settings: {}, createdAt: 0 };
  await saveSource(database.db, { name: 'gates', ...parts });
  const hash = createHash('sha256').update('token').digest('hex');
  await addToken(database.db, { hash, source: 'gates', hint: '', backfill: false, createdAt: 0 });
  await countChange(database.db);
  await database.close();
});

afterAll(async () => {
  await application?.stop();
  if (isMounted) spawnSync('umount', ['-l', folder]);
  rmSync(folder, { recursive: true, force: true });
});

/** Fills the disk but for so many bytes. */
function fillUpTo(left: number): void {
  const { bavail, bsize } = statfsSync(folder);
  spawnSync('fallocate', ['-l', String(Math.max(1, bavail * bsize - left)), filling]);
}

const post = async () => {
  const headers = { authorization: 'Bearer token' };
  const answer = await fetch(`${intake}/intake/gates`, { method: 'POST', headers, body: '{"msg":"passes"}' });
  return { status: answer.status, retryAfter: answer.headers.get('retry-after'), text: await answer.text() };
};
const status = async (): Promise<number> => (await post()).status;
const ready = async (): Promise<number> => (await fetch(`${intake}/health/ready`)).status;
const patient = { timeout: 60_000, interval: 200 };

test.skipIf(!isMounted)('nothing is taken in before the disk is full, and again once there is room', async () => {
  await expect.poll(status, patient).toBe(200);
  fillUpTo(reserve - 30_000_000);
  await expect.poll(ready, patient).toBe(503);
  expect(await post()).toMatchObject({ status: 503, retryAfter: '2', text: expect.stringContaining('disk') });
  rmSync(filling);
  await expect.poll(ready, patient).toBe(200);
  expect(await status()).toBe(200);
});

test.skipIf(!isMounted)(
  'a database that died of a full disk is waited for, while syslog goes on listening',
  async () => {
    const said = vi.spyOn(console, 'error').mockImplementation(() => {});
    const pid = Number(readFileSync(join(folder, 'data', 'mariadb', 'server.pid'), 'utf8'));
    fillUpTo(0);
    process.kill(pid, 'SIGKILL');
    await expect.poll(() => said.mock.calls.flat().join('\n'), patient).toContain('The database ended (SIGKILL)');
    expect(said.mock.calls).toHaveLength(1);
    expect(said.mock.calls[0]?.[0]).toMatch(
      /the disk of .* is full \(0 MB free\)\. It is started again once that is over/,
    );
    const socket = connect({ port: syslog, host: '127.0.0.1' });
    await once(socket, 'connect');
    socket.write('<134>1 2026-11-24T08:15:00Z gate-01 gates - - - passes while the disk is full\n');
    expect((await post()).status).toBe(503);
    rmSync(filling);
    await expect.poll(status, patient).toBe(200);
    socket.end();
    const database = openDatabase(application.databaseUrl, 1);
    const sources = async () =>
      (await sumLedger(database, { from: 0, to: Date.now() + 60_000 }, ['source'], 0))
        .map(({ source }) => source)
        .sort();
    await expect.poll(sources, patient).toEqual(['gates', 'syslog']);
    await database.close();
    expect(said).toHaveBeenCalledTimes(1);
  },
);
