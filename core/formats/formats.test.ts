import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { describe, expect, test } from 'vitest';
import { eventAt } from '../events/batch.ts';
import { decode, encode } from '../events/text-table.ts';
import { arrival, batchOfLines } from '../testing/batch-of.ts';
import { decodeOtlp, encodeOtlp, readOtlp } from './otlp.ts';
import { type ReaderCache, readRecords } from './read.ts';
import { beginsArray, splitArray, splitLines } from './records.ts';

const context = { received: arrival, backfill: false };

function first(line: string) {
  return eventAt(batchOfLines([line]), 0);
}

describe('syslog', () => {
  test('the examples of RFC 5424, section 6.5', () => {
    const plain = first(
      "<34>1 2003-10-11T22:14:15.003Z mymachine.example.com su - ID47 - \uFEFF'su root' failed for lonvick on /dev/pts/8",
    );
    expect(plain).toMatchObject({
      severity: 18,
      emitter: 'mymachine.example.com',
      body: "'su root' failed for lonvick on /dev/pts/8",
    });
    expect(plain.attributes).toMatchObject({ app: 'su', 'message.id': 'ID47', facility: 'auth' });
    const data = first(
      '<165>1 2003-10-11T22:14:15.003Z mymachine.example.com evntslog - ID47 [exampleSDID@32473 iut="3" eventSource="Application" eventID="1011"][examplePriority@32473 class="high"]',
    );
    expect(data.attributes).toMatchObject({
      'exampleSDID@32473.iut': '3',
      'exampleSDID@32473.eventSource': 'Application',
      'examplePriority@32473.class': 'high',
    });
    expect(data.body).toBe('');
    const zone = first(
      '<165>1 2003-08-24T05:14:15.000003-07:00 192.0.2.1 myproc 8710 - - %% It is time to make the do-nuts.',
    );
    expect(zone.attributes).toMatchObject({ app: 'myproc', process: '8710', 'time.given': '2003-08-24T12:14:15.000Z' });
  });

  test('the examples of RFC 3164, section 5.4', () => {
    const event = first("<34>Oct 11 22:14:15 mymachine su: 'su root' failed for lonvick on /dev/pts/8");
    expect(event).toMatchObject({ time: Date.UTC(2026, 9, 11, 22, 14, 15), severity: 18, emitter: 'mymachine' });
    expect(event.body).toBe("'su root' failed for lonvick on /dev/pts/8");
    expect(first('<13>Use the BFG!').body).toBe('Use the BFG!');
  });

  test('escapes in structured data', () => {
    expect(first('<14>1 - - - - - [x a="q\\"b\\]c\\\\d"] m').attributes['x.a']).toBe('q"b]c\\d');
  });

  test('a record that is cut off is reported, not thrown', () => {
    const { problems } = readRecords('test', splitLines(encode('<14>1 - h a - - [x a="')), 'rfc5424', context);
    expect(problems).toEqual([{ record: 1, message: 'not RFC 5424: the structured data is not closed' }]);
  });
});

test('OTLP in protobuf reads as the same events as in JSON', () => {
  const request = {
    resourceLogs: [
      {
        resource: { attributes: [{ key: 'service.name', value: { stringValue: 'bridge' } }] },
        scopeLogs: [
          {
            logRecords: [
              {
                timeUnixNano: `${arrival}000000`,
                severityNumber: 9,
                body: { stringValue: 'ahoy' },
                attributes: [{ key: 'n', value: { intValue: '7' } }],
              },
            ],
          },
        ],
      },
    ],
  };
  const fromJson = eventAt(readOtlp('s', request, 100, context).batch, 0);
  const fromBytes = eventAt(readOtlp('s', decodeOtlp(encodeOtlp(request)), 100, context).batch, 0);
  expect(fromBytes).toEqual(fromJson);
  expect(fromJson).toMatchObject({
    time: arrival,
    severity: 9,
    body: 'ahoy',
    attributes: { 'service.name': 'bridge', n: 7 },
  });
});

describe('records', () => {
  test('lines are numbered as they stand in the request, blank ones counted', () => {
    const { count, lines } = splitLines(encode('a\r\n\n  \nb'));
    expect(count).toBe(2);
    expect([...(lines ?? [])].slice(0, 2)).toEqual([1, 4]);
  });

  test('an array is cut into its items', () => {
    const bytes = encode(' [ {"a":"},"}, {"b":[1,2]} ] ');
    expect(beginsArray(bytes)).toBe(true);
    const { starts, ends, count } = splitArray(bytes);
    expect(
      Array.from({ length: count }, (_, i) => decode(bytes, starts[i] as number, ends[i] as number).trim()),
    ).toEqual(['{"a":"},"}', '{"b":[1,2]}']);
  });
});

describe('what cannot be taken as it is', () => {
  test('a number that no double holds is kept as its text, as is what is not finite over OTLP', () => {
    expect(first('{"a":1e999,"b":-1e400,"c":1}').attributes).toEqual({ a: '1e999', b: '-1e400', c: 1 });
    const values = [
      { doubleValue: Number.NaN },
      { doubleValue: 'Infinity' },
      { bytesValue: [0, 1, 2] },
      { bytesValue: 'AAEC' },
    ];
    const attributes = values.map((value, i) => ({ key: `k${i}`, value }));
    const { batch } = readOtlp(
      's',
      { resourceLogs: [{ scopeLogs: [{ logRecords: [{ attributes }] }] }] },
      100,
      context,
    );
    expect(eventAt(batch, 0).attributes).toEqual({ k0: 'NaN', k1: 'Infinity', k2: 'AAEC', k3: 'AAEC' });
  });

  test('names have a length, in bytes, and are Unicode', () => {
    const name = 'é'.repeat(128);
    const { batch, attributesLeftOut } = readRecords(
      's',
      splitLines(encode(`{"${name}":1,"${name}x":2,"\\ud800":3,"\\udfff":4}`)),
      'json',
      context,
    );
    expect(eventAt(batch, 0).attributes).toEqual({ [name]: 1, '\ufffd': 4 });
    expect(attributesLeftOut).toBe(1);
  });

  test('a record that cannot be read is there to be kept, and those with the same fault have one reason', () => {
    const lines = splitLines(encode('{"a":1}\n{"a":}\n{"abc": }\n{"a":2}'));
    const { batch, unreadable, rejected } = readRecords('s', lines, 'json', context);
    expect([batch.rows, unreadable?.rows, rejected]).toEqual([2, 2, 2]);
    const events = [0, 1].map((row) => eventAt(unreadable as NonNullable<typeof unreadable>, row));
    expect(events.map(({ body }) => body)).toEqual(['{"a":}', '{"abc": }']);
    expect(new Set(events.map(({ attributes }) => attributes['parse.failed']))).toEqual(
      new Set(['reading: not JSON: expected a value']),
    );
    expect(readRecords('s', splitLines(encode('{"a":1}')), 'json', context).unreadable).toBeUndefined();
  });

  test('a reader keeps nothing of the batches it has read alive', async () => {
    setFlagsFromString('--expose-gc');
    const collect: () => void = runInNewContext('gc');
    const readers: ReaderCache = new Map();
    const read = (): WeakRef<object> => {
      const text = Array.from({ length: 2_000 }, (_, i) => `{"n":${i},"text":"line ${i}","host":"h"}`).join('\n');
      const { batch } = readRecords('s', splitLines(encode(text)), 'json', context, readers);
      return new WeakRef(batch.attributes.get('n')?.number?.values.buffer ?? batch);
    };
    const refs = [read(), read()];
    // What a WeakRef was made for lives until the turn it was made in is over.
    await new Promise((resolve) => setImmediate(resolve));
    collect();
    expect(refs.map((ref) => ref.deref())).toEqual([undefined, undefined]);
  });
});
