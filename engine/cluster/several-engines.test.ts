import { appendFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { HealthAnswer } from '#core/health/views.ts';
import { serveObjects } from '#demo/object-store.ts';
import { type StartedDatabase, startDatabase } from '../../scripts/database.mjs';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { freePort } from '../testing/ports.ts';

const perRequest = 500;
const requests = 400;
const objectCount = 30;
const linesOfObject = 200;

let folder: string;
let port: number;
let mariadb: StartedDatabase;
let engines: readonly [TestEngine, TestEngine];
let objects: Server;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'otter-several-'));
  port = await freePort();
  // Ids of one statement do not follow each other on such a server.
  mariadb = await startDatabase(folder, port, { rights: '*.*', idsApart: 3 });
  const first = await startEngine(mariadb.server);
  engines = [first, await startEngine(mariadb.server, first)];
  const objectsPort = await freePort();
  mkdirSync(join(folder, 'objects'));
  objects = serveObjects(join(folder, 'objects'), objectsPort);
  const globs = [join(first.folder, 'harbour.log')];
  writeFileSync(globs[0] as string, '');
  await first.source('numbers');
  await first.source('harbour', { kind: 'files', format: 'json', settings: { globs } });
  const url = `http://127.0.0.1:${objectsPort}/objects/`;
  await first.source('weather', { kind: 'objects', format: 'json', settings: { url } });
});

afterAll(async () => {
  objects.close();
  for (const engine of [...engines].reverse()) await engine.stop();
  await mariadb.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** Sends numbered events under keys to both engines in turn, until every request is acknowledged by one of them. */
async function sendAll(): Promise<void> {
  let next = 0;
  const lane = async (): Promise<void> => {
    for (let request = next++; request < requests; request = next++) {
      const first = request * perRequest;
      const body = Array.from(
        { length: perRequest },
        (_, i) => `{"msg":"crossing","host":"gate-${(first + i) % 40}","number":${first + i}}`,
      ).join('\n');
      for (let attempt = request; ; attempt++) {
        const engine = engines[attempt % 2] as TestEngine;
        const answer = await send(engine, 'numbers', body, { 'idempotency-key': `r${request}` }).catch(() => undefined);
        if (answer?.ok && (await answer.json().catch(() => undefined))) break;
      }
    }
  };
  await Promise.all(Array.from({ length: 6 }, lane));
}

/** What is stored of a source: how many events, the sum of their numbers, and how many numbers there are twice. */
async function stored(source: string): Promise<readonly (string | number | null | undefined)[]> {
  const [engine] = engines;
  const summary = 'count() as events, min(number) as least, max(number) as most, sum(number) as total';
  const { summary: table } = await engine.search({ condition: `source = ${source}`, summary, limit: 0 });
  const doubled = 'count() as events by number having events > 1';
  const twice = await engine.search({ condition: `source = ${source}`, summary: doubled, limit: 0 });
  return [...(table?.rows[0] ?? []), twice.summary?.rows.length];
}

function eachOnce(count: number): readonly number[] {
  return [count, 0, count - 1, (count * (count - 1)) / 2, 0];
}

async function holderOf(name: string): Promise<{ readonly holder: string; readonly token: number }> {
  const answer: unknown = await engines[0].database.db.execute(
    sql`select holder, token from lease where name = ${name}`,
  );
  const rows: unknown = Array.isArray(answer) ? answer[0] : [];
  const row: unknown = Array.isArray(rows) ? rows[0] : undefined;
  if (typeof row !== 'object' || row === null || !('holder' in row) || !('token' in row)) throw new Error('no lease');
  return { holder: String(row.holder), token: Number(row.token) };
}

async function healthAt(engine: TestEngine): Promise<HealthAnswer> {
  return await engine.ask('health');
}

describe('two engines on one database', () => {
  test('through ten deaths of engines and two of MariaDB, everything acknowledged is there once', async () => {
    let written = 0;
    const write = (count: number): void => {
      const lines = Array.from({ length: count }, () => `{"msg":"berth","number":${written++}}\n`);
      appendFileSync(join(engines[0].folder, 'harbour.log'), lines.join(''));
    };
    let put = 0;
    const putObject = (): void => {
      if (put >= objectCount) return;
      const first = put++ * linesOfObject;
      const lines = Array.from({ length: linesOfObject }, (_, i) => `{"msg":"wind","number":${first + i}}\n`);
      writeFileSync(join(folder, 'objects', `hour-${put}.ndjson`), lines.join(''));
    };
    const sent = sendAll();
    for (let round = 0; round < 5; round++) {
      for (const engine of engines) {
        write(2_000);
        for (let i = 0; i < 3; i++) putObject();
        await pause(200 + Math.random() * 900);
        await engine.kill();
        await engine.restart();
      }
      if (round % 2 === 1) {
        await mariadb.stop();
        mariadb = await startDatabase(folder, port, { rights: '*.*', idsApart: 3 });
      }
    }
    await sent;
    await engines[1].found({ condition: 'source = harbour', limit: 0 }, written);
    await expect.poll(() => stored('weather'), { timeout: 30_000 }).toEqual(eachOnce(objectCount * linesOfObject));
    expect(await stored('harbour')).toEqual(eachOnce(written));
    expect(await stored('numbers')).toEqual(eachOnce(perRequest * requests));
  }, 240_000);

  test('each knows what was sent to the other, and nobody is silent who spoke to one of them', async () => {
    for (let i = 0; i < 12; i++)
      for (const engine of engines) await send(engine, 'numbers', `{"msg":"scan","host":"gate-${i}"}`);
    const counts = async () => {
      const views = await Promise.all(engines.map(healthAt));
      return views.map(({ followed }) => {
        const own = followed.filter(({ source, emitter }) => source === 'numbers' && emitter !== '');
        return [
          own.reduce((sum, { events }) => sum + events, 0),
          own.filter(({ health }) => health.state === 'silent'),
        ];
      });
    };
    // Every event was counted once, though engines died that had learnt and not saved.
    const all = [perRequest * requests + 24, []];
    await expect.poll(counts, { timeout: 20_000 }).toEqual([all, all]);
  });

  test('what is changed at one is known to the other within a second', async () => {
    const [first, second] = engines;
    await first.source('tides');
    const begun = performance.now();
    await expect
      .poll(async () => (await send(second, 'tides', '{"msg":"high"}')).status, { interval: 50, timeout: 10_000 })
      .toBe(200);
    expect(performance.now() - begun).toBeLessThan(3_000);
  });

  test('what only one may do is done by one, and taken over within 15 s when that one dies', async () => {
    const names = ['merging', 'retention', 'health', 'rewinds', 'reading harbour', 'reading weather'];
    const before = await Promise.all(names.map(holderOf));
    const ports = engines.map(({ intake }) => intake.split(':').pop() ?? '');
    const dying = engines.find((_, i) => before[0]?.holder.endsWith(`:${ports[i]}`)) as TestEngine;
    const other = engines.find((engine) => engine !== dying) as TestEngine;
    const otherPort = other.intake.split(':').pop() ?? '';
    const begun = performance.now();
    await dying.kill();
    const isTaken = async () => {
      const now = await Promise.all(names.map(holderOf));
      return now.every(({ holder }) => holder.endsWith(`:${otherPort}`));
    };
    await expect.poll(isTaken, { timeout: 30_000, interval: 200 }).toBe(true);
    expect(performance.now() - begun).toBeLessThan(15_000);
    const after = await Promise.all(names.map(holderOf));
    for (const [i, { token }] of after.entries()) expect(token).toBeGreaterThanOrEqual(before[i]?.token ?? 0);
    await dying.restart();
  }, 60_000);
});
