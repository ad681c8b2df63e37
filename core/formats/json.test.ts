import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { eventAt } from '../events/batch.ts';
import { encode } from '../events/text-table.ts';
import { arrival, batchOf, batchOfLines } from '../testing/batch-of.ts';
import { readRecords } from './read.ts';
import { splitLines } from './records.ts';

const context = { received: arrival, backfill: false };

function first(line: string) {
  return eventAt(batchOfLines([line]), 0);
}

describe('JSON lines', () => {
  test('time, severity, body and emitter are recognised, the rest become attributes', () => {
    const event = first(
      '{"@timestamp":"2026-11-24T08:59:58.25Z","level":"WARN","msg":"hi \\"you\\"","host":"api-1","http":{"status":404,"ok":true},"tags":["a"],"none":null,"took":1.5e-3}',
    );
    expect(event).toMatchObject({
      time: Date.UTC(2026, 10, 24, 8, 59, 58, 250),
      severity: 13,
      body: 'hi "you"',
      emitter: 'api-1',
    });
    expect(event.attributes).toEqual({ 'http.status': 404, 'http.ok': true, tags: '["a"]', took: 0.0015 });
  });

  test.each([
    ['{"ts":1795510800}', 1_795_510_800_000],
    ['{"ts":1795510800123}', 1_795_510_800_123],
    ['{"time":"2026-11-24T09:00:00+02:00"}', Date.UTC(2026, 10, 24, 7)],
    ['{"time":"not a time"}', arrival],
  ])('%s has its time', (line, time) => {
    expect(first(line).time).toBe(time);
  });

  test('it reads what the language’s own parser reads', () => {
    const value = fc.oneof(
      fc.string(),
      fc.integer(),
      fc.double({ noNaN: true, noDefaultInfinity: true }),
      fc.boolean(),
    );
    const name = fc.string({ minLength: 1 }).map((text) => `k${text}`);
    fc.assert(
      fc.property(fc.array(fc.dictionary(name, value, { maxKeys: 6 }), { minLength: 1, maxLength: 8 }), (objects) => {
        const batch = batchOf(objects);
        objects.forEach((object, row) => {
          const wanted = Object.fromEntries(
            Object.entries(object).map(([key, value]) => [key, Object.is(value, -0) ? 0 : value]),
          );
          const { attributes } = eventAt(batch, row);
          expect(
            Object.fromEntries(
              Object.entries(attributes).map(([key, value]) => [key, Object.is(value, -0) ? 0 : value]),
            ),
          ).toEqual(wanted);
        });
      }),
      { numRuns: 500 },
    );
  });

  test('no bytes make it throw, and a broken line leaves its neighbours alone', () => {
    const piece = fc.constantFrom(
      '{',
      '}',
      '"',
      ':',
      ',',
      '[',
      ']',
      '\\',
      'a',
      '1',
      '-',
      '.',
      'e',
      'true',
      'null',
      ' ',
      '"a":1',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 20 }), (pieces) => {
        const broken = `{${pieces.join('')}`;
        const bytes = encode(`{"n":1}\n${broken}\n{"n":3}`);
        const { batch, rejected } = readRecords('test', splitLines(bytes), 'json', context);
        expect(batch.rows + rejected).toBe(3);
        expect(eventAt(batch, 0).attributes).toEqual({ n: 1 });
        expect(eventAt(batch, batch.rows - 1).attributes).toEqual({ n: 3 });
      }),
      { numRuns: 2_000 },
    );
  });

  test('what is deeper than names are made of is kept as JSON', () => {
    const deep = (depth: number): string => (depth === 0 ? '1' : `{"a":${deep(depth - 1)}}`);
    const names = (depth: number): string => Array.from({ length: depth }, () => 'a').join('.');
    expect(first(deep(16)).attributes).toEqual({ [names(16)]: 1 });
    expect(first(deep(18)).attributes).toEqual({ [names(16)]: deep(2) });
  });

  test('members are told apart in any order, with escapes in their names, and twice in one object the last counts', () => {
    const { attributes } = eventAt(
      batchOfLines(['{"a":1,"b":2,"c":3}', '{"c":4,"\\u0061":5,"b":6}', '{"b":7,"b":8}']),
      1,
    );
    expect(attributes).toEqual({ a: 5, b: 6, c: 4 });
    expect(first('{"b":7,"b":8}').attributes).toEqual({ b: 8 });
  });

  test('where only some members are wanted the others are passed, and faults in them are found all the same', () => {
    const wanted = new Set(['status']);
    const read = (text: string) => {
      const { batch, rejected } = readRecords('test', splitLines(encode(text)), 'json', { ...context, wanted });
      return [batch.rows > 0 ? eventAt(batch, 0).attributes : undefined, rejected];
    };
    expect(read('{"path":"a\\"b","status":404,"tags":["}"],"took":1.5}')).toEqual([{ status: 404 }, 0]);
    expect(read('{"path":"/a","status":}')).toEqual([undefined, 1]);
    expect(read('{"path":"/a" "status":404}')).toEqual([undefined, 1]);
  });

  test('more names than are remembered are read nonetheless', () => {
    const names = Array.from({ length: 700 }, (_, i) => `k${i}`);
    const line = JSON.stringify({ nested: Object.fromEntries(names.slice(0, 100).map((name, i) => [name, i])), x: 1 });
    expect(eventAt(batchOfLines([line, line]), 1).attributes).toEqual(eventAt(batchOfLines([line]), 0).attributes);
  });
});
