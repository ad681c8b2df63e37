import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type StartedDatabase, startDatabase } from '../../scripts/database.mjs';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { freePort } from '../testing/ports.ts';

/** How long a sender may be without an answer, in milliseconds; what is left of it is for a busy machine. */
const longestAnswer = 5_000;
const slack = 2_500;

let folder: string;
let mariadb: StartedDatabase;
let engine: TestEngine;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'otter-silent-'));
  mariadb = await startDatabase(folder, await freePort(), { rights: '*.*' });
  engine = await startEngine(mariadb.server);
  await engine.source('numbers');
});

afterAll(async () => {
  await engine.stop();
  await mariadb.stop();
  rmSync(folder, { recursive: true, force: true });
});

const body = (n: number): string => `{"msg":"crossing","number":${n}}`;

/** Posts events of which each has a number and a key, one after the other, until `isOver`; each again until it is acknowledged. */
async function sendUntil(isOver: () => boolean, lane: number) {
  const answers: { readonly status: number; readonly retryAfter: string | null; readonly took: number }[] = [];
  let sent = 0;
  while (!isOver()) {
    const number = lane * 1_000_000 + sent;
    for (;;) {
      const begun = performance.now();
      const answer = await send(engine, 'numbers', body(number), { 'idempotency-key': `n-${number}` });
      await answer.arrayBuffer();
      const retryAfter = answer.headers.get('retry-after');
      answers.push({ status: answer.status, retryAfter, took: performance.now() - begun });
      if (answer.status === 200) break;
    }
    sent++;
  }
  return { sent, answers };
}

test('a store that is asleep is noticed within seconds, and what was sent meanwhile is there once when it wakes', async () => {
  for (let round = 1; round <= 3; round++) {
    let isOver = false;
    const lanes = Promise.all(Array.from({ length: 8 }, (_, lane) => sendUntil(() => isOver, round * 10 + lane)));
    await expect.poll(async () => (await engine.search({ limit: 0 })).total, { timeout: 30_000 }).toBeGreaterThan(50);
    mariadb.child.kill('SIGSTOP');
    const stopped = performance.now();
    const ready = async (): Promise<number> => (await fetch(`${engine.intake}/health/ready`)).status;
    await expect.poll(ready, { timeout: 20_000, interval: 50 }).toBe(503);
    expect(performance.now() - stopped).toBeLessThan(longestAnswer + slack);
    const asked = performance.now();
    await expect(engine.ask('sources')).rejects.toThrow('cannot be reached');
    await expect(engine.search({ condition: 'number > 3' })).rejects.toThrow('cannot be reached');
    expect(performance.now() - asked).toBeLessThan(longestAnswer + slack);
    mariadb.child.kill('SIGCONT');
    await expect.poll(ready, { timeout: 20_000, interval: 50 }).toBe(200);
    isOver = true;
    const done = await lanes;
    const refusals = done.flatMap(({ answers }) => answers).filter(({ status }) => status !== 200);
    expect(refusals.length).toBeGreaterThan(0);
    for (const { status, retryAfter, took } of refusals) {
      expect({ status, retryAfter }).toEqual({ status: 503, retryAfter: '2' });
      expect(took).toBeLessThan(longestAnswer + slack);
    }
    for (const [lane, { sent }] of done.entries()) {
      const first = (round * 10 + lane) * 1_000_000;
      const condition = `number >= ${first} number < ${first + 1_000_000}`;
      const { summary } = await engine.search({
        condition,
        summary: 'count() as all, distinct(number) as numbers',
        limit: 0,
      });
      expect(summary?.rows[0]?.[0]).toBe(sent);
    }
  }
});
