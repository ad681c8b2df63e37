import { connect } from 'node:net';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { encodeOtlp } from '#core/formats/otlp.ts';
import type { LogsRequest } from '#core/formats/otlp-request.ts';
import { listQuarantine } from '#store/events/quarantine.ts';
import { longestWait } from '../testing/canary.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  for (const name of ['canary', 'hostile', 'other', 'cursed']) await engine.source(name);
});

afterAll(() => engine.stop());

/**
 * How long the canary may wait for an answer at most (milliseconds): a second, or more on a machine where it waits long alone,
 * which is measured around the time that it is about: machines are slower by turns.
 */
let patience = 1_000;

async function waitAlone(): Promise<void> {
  let turns = 0;
  const alone = await longestWait(engine, async () => {
    while (turns++ < 10) await send(engine, 'other', '{"msg":"alone"}');
  });
  patience = Math.max(patience, alone * 8);
}

beforeAll(waitAlone);

/** Fails where the canary waited for too long. */
async function expectShort(wait: number): Promise<void> {
  if (wait >= patience) await waitAlone();
  expect(wait).toBeLessThan(patience);
}

const otlp = (records: NonNullable<NonNullable<LogsRequest['resourceLogs']>[0]['scopeLogs']>[0]['logRecords']) =>
  ({ resourceLogs: [{ scopeLogs: [{ logRecords: records ?? [] }] }] }) as const;

function sendOtlp(body: BodyInit, type: string, source = 'hostile'): Promise<Response> {
  return fetch(`${engine.intake}/v1/logs`, {
    method: 'POST',
    headers: { authorization: `Bearer token-${source}`, 'content-type': type },
    body,
  });
}

describe('beside a hostile sender a canary is answered within a second', () => {
  test('names that differ in blanks, names that are too long, and names that are no Unicode', async () => {
    const blanks = Array.from({ length: 5_000 }, () => '{"a":1,"a ":2}').join('\n');
    const long = Array.from({ length: 200 }, (_, i) => `{"${'n'.repeat(350)}${i}":1,"ok":${i}}`).join('\n');
    const odd = '{"\\ud800":1,"\\u0000":2,"":3,"__proto__":4,"constructor":5}';
    const wait = await longestWait(engine, async () => {
      for (const body of [blanks, long, odd])
        expect(await (await send(engine, 'hostile', body)).json()).toMatchObject({ rejected: 0 });
    });
    await expectShort(wait);
    expect((await engine.search({ condition: '`a ` = 2', limit: 0 })).total).toBe(5_000);
    expect((await engine.search({ condition: 'source = hostile has ok', limit: 0 })).total).toBe(200);
    const { events } = await engine.search({ condition: 'source = hostile constructor = 5' });
    expect(events[0]?.attributes).toMatchObject({ '\ufffd': 1, '\u0000': 2, '': 3, constructor: 5 });
  });

  test('numbers that are not finite, in every format', async () => {
    const wait = await longestWait(engine, async () => {
      await send(
        engine,
        'hostile',
        '{"kind":"vast","value":1e999}\n{"kind":"vast","value":-1e999}\n{"kind":"vast","value":7}',
      );
      const record = (value: number) => ({ attributes: [{ key: 'value', value: { doubleValue: value } }] });
      const records = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY, Number.NaN, 3].map(record);
      expect((await sendOtlp(encodeOtlp(otlp(records)) as BodyInit, 'application/x-protobuf')).status).toBe(200);
      const json = JSON.stringify(otlp([{ attributes: [{ key: 'value', value: { doubleValue: 'Infinity' } }] }]));
      expect((await sendOtlp(json, 'application/json')).status).toBe(200);
    });
    await expectShort(wait);
    const summary = 'count() as n, p95(value) as high, sum(value) as total';
    const answer = await engine.search({ condition: 'source = hostile has value', summary, fields: true });
    expect(answer.summary?.rows[0]?.[0]).toBe(8);
    expect(answer.summary?.rows[0]?.[2]).toBe(10);
    expect(Number.isFinite(answer.summary?.rows[0]?.[1])).toBe(true);
    const texts = answer.events.map(({ attributes }) => attributes.value);
    for (const text of ['1e999', '-1e999', 'Infinity', '-Infinity', 'NaN']) expect(texts).toContain(text);
    await engine.ask('catalogue');
  });

  test('bombs, honest and lying about their size, and bodies without a token', async () => {
    const bomb = gzipSync(Buffer.alloc(60_000_000, '{"bomb":1,"pier":"pier-4 is empty"}\n'));
    const lying = Buffer.from(bomb);
    lying.writeUInt32LE(1_000, lying.length - 4);
    const tooLarge = gzipSync(Buffer.alloc(65_000_000));
    const tooMany = gzipSync(Buffer.alloc(60_000_000, '{"bomb":1}\n'));
    const headers = { 'content-encoding': 'gzip' };
    let statuses: readonly number[] = [];
    const wait = await longestWait(engine, async () => {
      const bombs = Promise.all(
        [bomb, lying, tooLarge, tooMany].map(async (body) => (await send(engine, 'hostile', body, headers)).status),
      );
      const refused = await Promise.all(
        Array.from({ length: 20 }, () =>
          fetch(`${engine.intake}/intake/hostile`, { method: 'POST', body: Buffer.alloc(12_000_000) as BodyInit }),
        ),
      );
      for (const answer of refused) expect(answer.status).toBe(401);
      statuses = await bombs;
    });
    await expectShort(wait);
    // A gzip that lies is known by its check sum, too.
    expect(statuses).toEqual([200, 400, 413, 413]);
    const memory = /otter_memory_bytes (\d+)/.exec(await (await fetch(`${engine.intake}/metrics`)).text());
    expect(Number(memory?.[1])).toBeLessThan(1_600_000_000);
  });

  test('ever new hosts with long names, and what they leave behind', async () => {
    const wait = await longestWait(engine, async () => {
      const lines = Array.from({ length: 3_000 }, (_, i) => `{"host":"${'h'.repeat(200)}-${i}","msg":"x"}`);
      expect((await send(engine, 'hostile', lines.join('\n'))).status).toBe(200);
    });
    await expectShort(wait);
  });
});

describe('the token is looked at before the body', () => {
  test('a request without one is answered while its body is still on the way', async () => {
    const port = Number(new URL(engine.intake).port);
    const said = await new Promise<string>((resolve, reject) => {
      const socket = connect(port, '127.0.0.1', () =>
        socket.write('POST /intake/canary HTTP/1.1\r\nHost: x\r\nContent-Length: 15000000\r\n\r\nfirst bytes'),
      );
      socket.once('data', (data) => {
        resolve(data.toString());
        socket.destroy();
      });
      socket.once('error', reject);
    });
    expect(said).toMatch(/^HTTP\/1.1 401/);
  });

  test.each(['', '   '])('an Idempotency-Key of %j is refused, as two would be one', async (key) => {
    const answer = await send(engine, 'canary', '{"msg":"keyless"}', { 'idempotency-key': key });
    expect(answer.status).toBe(400);
    expect((await answer.json()).title).toMatch(/Idempotency-Key is empty/);
  });
});

test('keys that differ in a blank at their end are two', async () => {
  for (const key of ['k', 'K'])
    for (let i = 0; i < 2; i++)
      await send(engine, 'other', `{"msg":"keyed","key":"${key}"}`, { 'idempotency-key': key });
  expect((await engine.search({ condition: 'source = other keyed', limit: 0 })).total).toBe(2);
});

test('records that cannot be read are kept as rejects with the reason, and counted', async () => {
  await engine.source('strict', { format: 'json' });
  const answer = await send(engine, 'strict', '{"n":1}\n{"n":\nplain text\n{"n":4}');
  expect(await answer.json()).toMatchObject({ accepted: 2, rejected: 2 });
  const rejects = await engine.search({ condition: 'source = strict', tiers: ['rejects'] });
  expect(rejects.events.map(({ body }) => body).sort()).toEqual(['plain text', '{"n":']);
  expect(String(rejects.events[0]?.attributes['parse.failed'])).toMatch(/^reading: not JSON: expected/);
});

test('what the store refuses is set aside alone, and can be tried again', async () => {
  const { sql } = await import('drizzle-orm');
  const { db } = engine.database;
  // A constraint forbids the segments of one source.
  await db.execute(sql`alter table segment add constraint no_other check (source <> 'cursed')`);
  const wait = await longestWait(engine, async () => {
    const answers = await Promise.all(
      Array.from({ length: 6 }, (_, i) => send(engine, i === 3 ? 'cursed' : 'hostile', `{"msg":"beside ${i}"}`)),
    );
    for (const [i, answer] of answers.entries()) {
      expect(answer.status).toBe(200);
      expect(await answer.json()).toMatchObject(i === 3 ? { accepted: 0, rejected: 1 } : { accepted: 1, rejected: 0 });
    }
  });
  await expectShort(wait);
  const [row, ...more] = await listQuarantine(engine.database);
  expect(more).toEqual([]);
  expect(row).toMatchObject({ source: 'cursed', records: 1 });
  expect((await engine.search({ condition: 'beside', limit: 0 })).total).toBe(5);
  await db.execute(sql`alter table segment drop constraint no_other`);
  expect(await engine.ask('retryQuarantined', { id: row?.id ?? 0 })).toEqual({
    accepted: 1,
    rejected: 0,
  });
  expect((await engine.search({ condition: 'beside', limit: 0 })).total).toBe(6);
  expect(await listQuarantine(engine.database)).toEqual([]);
});

test('the internal API answers to nobody who does not know the secret', async () => {
  for (const authorization of [undefined, 'Bearer', 'Bearer wrong', `Basic ${engine.environment.ENGINE_SECRET}`]) {
    const answer = await fetch(`${engine.api}/live`, { headers: { ...(authorization && { authorization }) } });
    expect(answer.status).toBe(401);
  }
});
