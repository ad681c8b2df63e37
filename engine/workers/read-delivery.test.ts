import { gzipSync } from 'node:zlib';
import { describe, expect, test } from 'vitest';
import { type EventRecord, eventAt } from '#core/events/batch.ts';
import { delivery, received } from '../testing/deliveries.ts';
import { readDelivery } from './read-delivery.ts';

function events(...parts: Parameters<typeof delivery>): readonly EventRecord[] {
  const read = readDelivery(delivery(...parts));
  if ('kind' in read) throw new Error(read.kind);
  const { batch } = read.result;
  return Array.from({ length: batch.rows }, (_, row) => eventAt(batch, row));
}

function refusal(...parts: Parameters<typeof delivery>) {
  const read = readDelivery(delivery(...parts));
  if (!('kind' in read) || read.kind !== 'refused') throw new Error('it was not refused');
  return read;
}

describe('a delivery', () => {
  test('of lines, packed or not, and of one JSON array', () => {
    const lines = ['{"n":1}', '{"n":2}'];
    const wanted = [{ n: 1 }, { n: 2 }];
    expect(events(lines).map(({ attributes }) => attributes)).toEqual(wanted);
    expect(events(gzipSync(lines.join('\n')), { gzip: true }).map(({ attributes }) => attributes)).toEqual(wanted);
    expect(events(`[${lines.join(',')}]`).map(({ attributes }) => attributes)).toEqual(wanted);
  });

  test('of bytes that are no UTF-8: each that is wrong is replaced, and what is right stays', () => {
    const read = readDelivery(delivery(Buffer.from([0x67, 0xff, 0x0a, 0xc3, 0xa4])));
    expect(read).toMatchObject({ replaced: true });
    expect(events(Buffer.from([0x67, 0xff, 0x0a, 0xc3, 0xa4])).map(({ body }) => body)).toEqual(['g\ufffd', 'ä']);
    expect(readDelivery(delivery(['gezeitenstärke']))).toMatchObject({ replaced: false });
  });

  test('of messages: each is a record, whatever line feeds it holds', () => {
    const chunks = ['one\nline', 'two'].map((text) => new TextEncoder().encode(text));
    expect(events('', { shape: 'messages', format: 'text', chunks }).map(({ body }) => body)).toEqual([
      'one\nline',
      'two',
    ]);
  });

  test('with a rule that joins lines', () => {
    const read = events(['Failure', '  at gate', 'Next'], { format: 'text', join: { continues: '^\\s' } });
    expect(read.map(({ body }) => body)).toEqual(['Failure\n  at gate', 'Next']);
  });

  test('with labels and columns: the first line of values is not among them', () => {
    const [first, second] = events(['2026-11-24T08:00:00Z,1.5,calm', '2026-11-24T08:10:00Z,,'], {
      format: 'text',
      columns: ['at:iso', 'height:number', 'note'],
      labels: { pier: 'pier-2' },
    });
    expect(first).toMatchObject({
      time: Date.UTC(2026, 10, 24, 8),
      attributes: { height: 1.5, note: 'calm', pier: 'pier-2' },
    });
    expect(second?.attributes).not.toHaveProperty('height');
    expect(second?.attributes.pier).toBe('pier-2');
  });

  test('of OTLP, in JSON', () => {
    const request = {
      resourceLogs: [
        {
          resource: { attributes: [{ key: 'host.name', value: { stringValue: 'kittiwake' } }] },
          scopeLogs: [{ logRecords: [{ severityNumber: 13, body: { stringValue: 'slack rope' } }] }],
        },
      ],
    };
    const [event] = events(JSON.stringify(request), { shape: 'otlp-json' });
    expect(event).toMatchObject({ body: 'slack rope', severity: 13, attributes: { 'host.name': 'kittiwake' } });
  });
});

describe('a delivery that is made up of far too many parts is refused, not read', () => {
  test.each([
    ['lines', 'x\n'],
    ['items of an array', '{},'],
  ])('%s', (_, item) => {
    const many = gzipSync(item.startsWith('{') ? `[${item.repeat(2_100_000)}{}]` : item.repeat(2_100_000));
    expect(refusal(many, { gzip: true })).toMatchObject({ status: 413, message: expect.stringContaining('2,000,000') });
  });

  test.each([
    ['records of OTLP', nested(Buffer.alloc(8_200_000, Buffer.from([0x12, 0])), 0x12, 0x0a), 'otlp-protobuf'],
    [
      'values of an attribute',
      nested(Buffer.alloc(13_000_000, Buffer.from([0x0a, 0])), 0x2a, 0x12, 0x32, 0x12, 0x12, 0x0a),
      'otlp-protobuf',
    ],
    ['objects of OTLP', Buffer.from(`{"resourceLogs":[${'{},'.repeat(6_100_000)}{}]}`), 'otlp-json'],
  ] as const)('%s', (_, bytes, shape) => {
    expect(refusal(gzipSync(bytes), { gzip: true, shape })).toMatchObject({ status: 413 });
  });
});

/** Bytes as a protobuf field within fields, the innermost tag first. */
function nested(bytes: Buffer, ...tags: readonly number[]): Buffer {
  return tags.reduce((inner, tag) => {
    const length: number[] = [];
    for (let left = inner.length; left > 0; left >>>= 7) length.push((left & 127) | (left > 127 ? 128 : 0));
    return Buffer.concat([Buffer.from([tag, ...length]), inner]);
  }, bytes);
}

describe('masks of a source', () => {
  const masks = [
    { find: 'email', with: 'remove' },
    { after: 'pin=', with: 'remove' },
  ] as const;

  test('reach lines before they are read, messages and joined lines too', () => {
    const line = '{"msg":"anna@skerry.example pin=1234","to":"anna@skerry.example"}';
    for (const shape of ['lines', 'messages'] as const) {
      const [event] = events(line, { shape, masks });
      expect(JSON.stringify(event)).not.toMatch(/anna@|1234/);
    }
  });

  test('reach every value of an OTLP request', () => {
    const record = {
      body: { stringValue: 'anna@skerry.example' },
      attributes: [{ key: 'to', value: { stringValue: 'x pin=77' } }],
    };
    const request = { resourceLogs: [{ scopeLogs: [{ logRecords: [record] }] }] };
    expect(JSON.stringify(events(JSON.stringify(request), { shape: 'otlp-json', masks }))).not.toMatch(/anna@|pin=77/);
  });
});

describe('what cannot be read', () => {
  test('is refused with what was kept of it: nothing', () => {
    expect(refusal('plain', { gzip: true })).toMatchObject({
      status: 400,
      message: expect.stringContaining('no gzip'),
    });
    expect(refusal('{"resourceLogs":4}', { shape: 'otlp-json' })).toMatchObject({
      status: 400,
      message: expect.stringMatching(/no OTLP logs request.*Nothing of it was kept/),
    });
    expect(refusal(Uint8Array.of(255, 255), { shape: 'otlp-protobuf' }).status).toBe(400);
    expect(refusal('', { chunks: [] }).message).toContain('no body');
  });

  test('unfolds too far', () => {
    const bomb = gzipSync(Buffer.alloc(65_000_000));
    expect(refusal(bomb, { gzip: true })).toMatchObject({ status: 413, message: expect.stringContaining('64 MB') });
  });

  test('a single line among others is a problem with its number, and the others are read', () => {
    const read = readDelivery(delivery(['{"n":1}', '{"n":', '{"n":3}'], { format: 'json' }));
    if ('kind' in read) throw new Error(read.kind);
    expect(read.result.batch.rows).toBe(2);
    expect(read.result).toMatchObject({ rejected: 1, problems: [{ record: 2 }] });
  });

  test('bytes that are no UTF-8 are replaced, and it is said', () => {
    const read = readDelivery(delivery(Uint8Array.of(97, 255, 98), { format: 'text' }));
    if ('kind' in read) throw new Error(read.kind);
    expect(read.replaced).toBe(true);
    expect(eventAt(read.result.batch, 0)).toMatchObject({ body: 'a\ufffdb', time: received });
  });
});
