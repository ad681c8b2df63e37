import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type StartedDatabase, startDatabase } from '../../scripts/database.mjs';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { freePort } from '../testing/ports.ts';

const perRequest = 500;
const requests = 400;

/** Sends numbered events under idempotency keys until every request is acknowledged, several at once. */
async function sendAll(engine: TestEngine, run: string): Promise<void> {
  let next = 0;
  const lane = async (): Promise<void> => {
    for (let request = next++; request < requests; request = next++) {
      const first = request * perRequest;
      const lines = Array.from(
        { length: perRequest },
        (_, i) => `{"msg":"crossing","run":"${run}","number":${first + i}}`,
      );
      for (;;) {
        const answer = await send(engine, 'numbers', lines.join('\n'), {
          'idempotency-key': `${run}-${request}`,
        }).catch(() => undefined);
        if (answer?.ok && (await answer.json().catch(() => undefined))) break;
      }
    }
  };
  await Promise.all(Array.from({ length: 6 }, lane));
}

/** Every number is there exactly once. */
async function expectAll(engine: TestEngine, run: string): Promise<void> {
  const summary = 'count() as events, min(number) as least, max(number) as most, sum(number) as total';
  const { summary: table } = await engine.search({ condition: `run = ${run}`, summary, limit: 0 });
  const count = perRequest * requests;
  expect(table?.rows[0]).toEqual([count, 0, count - 1, (count * (count - 1)) / 2]);
  const doubled = await engine.search({
    condition: `run = ${run}`,
    summary: 'count() as events by number having events > 1',
    limit: 0,
  });
  expect(doubled.summary?.rows).toEqual([]);
}

describe('what was acknowledged is there exactly once', () => {
  let folder: string;
  let port: number;
  let mariadb: StartedDatabase;
  let engine: TestEngine;

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'otter-durable-'));
    port = await freePort();
    mariadb = await startDatabase(folder, port, { rights: '*.*' });
    engine = await startEngine(mariadb.server);
    await engine.source('numbers');
  });

  afterAll(async () => {
    await engine.stop();
    await mariadb.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  test('when the engine is killed again and again', async () => {
    let sending = true;
    const sent = sendAll(engine, 'kill').finally(() => {
      sending = false;
    });
    let kills = 0;
    while (sending && kills < 4) {
      await Promise.race([sent, pause(200 + Math.random() * 900)]);
      await engine.kill();
      kills++;
      await engine.restart();
    }
    await sent;
    expect(kills).toBeGreaterThan(1);
    await expectAll(engine, 'kill');
  });

  test('when MariaDB is stopped and started', async () => {
    const sent = sendAll(engine, 'away');
    for (let i = 0; i < 2; i++) {
      await pause(400);
      await mariadb.stop();
      const refused = await send(engine, 'numbers', '{"msg":"into the void"}');
      expect(refused.status).toBe(503);
      expect(refused.headers.get('retry-after')).toBe('2');
      mariadb = await startDatabase(folder, port, { rights: '*.*' });
    }
    await sent;
    await expectAll(engine, 'away');
    expect((await engine.search({ condition: 'void' })).total).toBe(0);
  });
});
