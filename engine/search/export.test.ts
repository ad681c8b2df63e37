import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { maxAttributes } from '#core/events/batch-builder.ts';
import { mostFieldColumns, otherFields } from '#core/exports/columns.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

const requests = 8;
const linesOf = 500;
const all = requests * linesOf;

let engine: TestEngine;

/** A source that has new names of fields in each of its requests, thousands in all. */
beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('hostile');
  for (let request = 0; request < requests; request++) {
    const lines = Array.from(
      { length: linesOf },
      (_, i) => `{"number":${request * linesOf + i},"field-${request}-${i % (maxAttributes - 50)}":"x${i}"}`,
    );
    expect((await send(engine, 'hostile', lines.join('\n'))).status).toBe(200);
  }
});

afterAll(() => engine.stop());

function begin(format: string, signal: AbortSignal | null = null, condition = ''): Promise<Response> {
  return fetch(`${engine.api}/operations/exportEvents`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
    body: JSON.stringify({ condition, from: '-1h', to: '+1h', format }),
    signal,
  });
}

test('thousands of fields become so many columns and one that has the rest; no value is lost', async () => {
  const lines = (await (await begin('csv')).text()).trimEnd().split('\r\n');
  expect(lines).toHaveLength(all + 1);
  const columns = lines[0]?.split(',') ?? [];
  expect(columns.at(-1)).toBe(otherFields);
  // What every event has is before the fields.
  expect(columns).toHaveLength(9 + mostFieldColumns + 1);
  const values = lines.slice(1).map((line) => line.match(/x\d+/g) ?? []);
  expect(values.every((found) => found.length === 1)).toBe(true);
  const ndjson = (await (await begin('ndjson')).text()).trimEnd().split('\n');
  const numbers = ndjson.map((line) => Number(JSON.parse(line).attributes.number));
  expect([...numbers].sort((a, b) => a - b)).toEqual(Array.from({ length: all }, (_, i) => i));
});

test('the columns are the fields of the matching events', async () => {
  await engine.source('plain');
  expect((await send(engine, 'plain', '{"berth":3,"ship":"Sandpiper"}')).status).toBe(200);
  const [header, line] = (await (await begin('csv', null, 'source = plain')).text()).split('\r\n');
  expect(header?.split(',').slice(9)).toEqual(['berth', 'ship']);
  expect(line).toMatch(/,3,Sandpiper$/);
});

test('exports that nobody takes any more end, and searches are answered all the while', async () => {
  for (let round = 0; round < 3; round++) {
    const begun = await Promise.all(
      ['csv', 'parquet'].map(async (format) => {
        const abort = new AbortController();
        const answer = await beginSurely(format, abort.signal);
        await answer.body?.getReader().read();
        return abort;
      }),
    );
    expect((await engine.search({ condition: 'number >= 0', limit: 10 })).total).toBe(all);
    for (const abort of begun) abort.abort();
  }
});

test('limits exports at a time', async () => {
  await engine.source('wordy');
  // Far more than socket buffers hold, so these exports keep running until they are read.
  const wordy = Array.from({ length: 128 }, (_, i) => `{"line":${i},"said":"${'ahoy '.repeat(1600)}"}`).join('\n');
  for (let request = 0; request < 16; request++) expect((await send(engine, 'wordy', wordy)).status).toBe(200);
  const begun = await Promise.all(
    Array.from({ length: mostExports }, () => beginSurely('ndjson', null, 'source = wordy')),
  );
  expect((await begin('ndjson')).status).toBe(429);
  const texts = await Promise.all(begun.map((answer) => answer.text()));
  expect(texts.map((text) => text.split('\n').length)).toEqual(new Array(mostExports).fill(16 * 128 + 1));
});

/** Most exports at a time, as the limits say. */
const mostExports = 4;

/** Begins an export as soon as there is room for it. */
async function beginSurely(
  format: string,
  signal: AbortSignal | null = null,
  condition = 'source = hostile',
): Promise<Response> {
  for (;;) {
    const answer = await begin(format, signal, condition);
    if (answer.status !== 429) return answer;
    await answer.body?.cancel();
  }
}
