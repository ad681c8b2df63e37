import { mkdirSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import protobuf from 'protobufjs';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { encodeOtlp } from '#core/formats/otlp.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

const all = ['http', 'otlp-json', 'otlp-protobuf', 'syslog', 'files', 'objects'] as const;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  for (const name of ['files', 'objects']) mkdirSync(join(engine.folder, name));
  await engine.source('http', { format: 'auto' });
  for (const name of ['otlp-json', 'otlp-protobuf']) await engine.source(name, { kind: 'otlp' });
  await engine.source('syslog', { kind: 'syslog', accepts: 'app = bell' });
  await engine.source('files', { kind: 'files', settings: { globs: [join(engine.folder, 'files', '*.log')] } });
  await engine.source('objects', { kind: 'objects', settings: { url: `file://${join(engine.folder, 'objects')}/` } });
});

afterAll(() => engine.stop());

/** Lines of plain text as bytes: all of Unicode, and what is none. */
const texts: readonly Uint8Array[] = [
  ...['a harbour', 'tab\there', 'nul\u0000here', 'é ✓ 🚢', 'a \ufeff mark', 'quote " and \\ slash'].map((text) =>
    Buffer.from(text),
  ),
  Buffer.from([0x77, 0xff, 0xfe, 0x78]),
  Buffer.from([0x77, 0xed, 0xa0, 0x80, 0x78]),
  Buffer.from([0x77, 0xc3]),
  Buffer.concat([Buffer.from('bell '), Buffer.from([0x80, 0x81]), Buffer.from(' end')]),
];

const joined = (lines: readonly Uint8Array[]): Buffer =>
  Buffer.concat(lines.flatMap((line) => [line, Buffer.from('\n')]));

/** The protobuf message with a body of bytes where a text is, as senders write that do not look at what they send. */
function otlpOfBytes(bodies: readonly Uint8Array[]): Uint8Array {
  const field = (type: string, id: number, rule?: string) => ({ fields: { v: { type, id, ...(rule && { rule }) } } });
  const root = protobuf.Root.fromJSON({
    nested: {
      Request: field('ResourceLogs', 1, 'repeated'),
      ResourceLogs: field('ScopeLogs', 2, 'repeated'),
      ScopeLogs: field('LogRecord', 2, 'repeated'),
      LogRecord: field('AnyValue', 5),
      AnyValue: field('bytes', 1),
    },
  });
  const type = root.lookupType('Request');
  return type.encode(type.fromObject({ v: [{ v: [{ v: bodies.map((body) => ({ v: { v: body } })) }] }] })).finish();
}

async function sendOtlp(source: string, type: string, body: Uint8Array): Promise<void> {
  const answer = await fetch(`${engine.intake}/v1/logs`, {
    method: 'POST',
    headers: { authorization: `Bearer token-${source}`, 'content-type': type },
    body: body as BodyInit,
  });
  expect([answer.status, await answer.text()]).toEqual([200, expect.any(String)]);
}

/** A body as JSON writes it, with the bytes as they are. */
function jsonText(bytes: Uint8Array): Buffer {
  const escaped = [...bytes].flatMap((byte) =>
    byte === 34 || byte === 92
      ? [92, byte]
      : byte < 32
        ? [...Buffer.from(`\\u${byte.toString(16).padStart(4, '0')}`)]
        : [byte],
  );
  return Buffer.from([34, ...escaped, 34]);
}

test('the same bytes come out as the same text, however they were sent', async () => {
  await send(engine, 'http', joined(texts));
  const bodies = texts.map((text) =>
    Buffer.concat([Buffer.from('{"body":{"stringValue":'), jsonText(text), Buffer.from('}}')]),
  );
  const records = Buffer.concat(bodies.flatMap((body, i) => (i === 0 ? [body] : [Buffer.from(','), body])));
  const json = Buffer.concat([
    Buffer.from('{"resourceLogs":[{"scopeLogs":[{"logRecords":['),
    records,
    Buffer.from(']}]}]}'),
  ]);
  await sendOtlp('otlp-json', 'application/json', json);
  await sendOtlp('otlp-protobuf', 'application/x-protobuf', otlpOfBytes(texts));
  await new Promise<void>((resolve, reject) => {
    const socket = connect(engine.syslogPort, '127.0.0.1', () => {
      for (const text of texts) {
        const message = Buffer.concat([Buffer.from(`<14>1 ${new Date().toISOString()} pier bell - - - `), text]);
        socket.write(Buffer.concat([Buffer.from(`${message.length} `), message]));
      }
      socket.end(resolve);
    });
    socket.on('error', reject);
  });
  writeFileSync(join(engine.folder, 'files', 'a.log'), joined(texts));
  writeFileSync(join(engine.folder, 'objects', 'a.txt'), joined(texts));
  const expected = texts.map((text) => new TextDecoder('utf-8', { ignoreBOM: true }).decode(text)).sort();
  for (const source of all) {
    const { events } = await engine.found({ condition: `source = ${source}` }, texts.length);
    expect([source, events.map(({ body }) => body).sort()]).toEqual([source, expected]);
  }
}, 60_000);

test('the same names and numbers come out as the same fields', async () => {
  const fields: Readonly<Record<string, number>> = {
    plain: 1,
    'with blank ': 2,
    'Ünïcode ⚓': 0.1,
    'dots.in.it': -7,
    '': 3,
    [`l${'o'.repeat(255)}`]: 4,
    big: 9_007_199_254_740_991,
    beyond: 1e21,
    tiny: 5e-324,
    negative: -0.5,
  };
  const tooLong = `l${'o'.repeat(256)}`;
  const line = JSON.stringify({ kind: 'fields', ...fields, [tooLong]: 5 });
  const attributes = [
    { key: 'kind', value: { stringValue: 'fields' } },
    ...Object.entries({ ...fields, [tooLong]: 5 }).map(([key, value]) => ({ key, value: { doubleValue: value } })),
  ];
  const request = { resourceLogs: [{ scopeLogs: [{ logRecords: [{ attributes }] }] }] };
  await send(engine, 'http', line);
  await sendOtlp('otlp-json', 'application/json', Buffer.from(JSON.stringify(request)));
  await sendOtlp('otlp-protobuf', 'application/x-protobuf', encodeOtlp(request));
  writeFileSync(join(engine.folder, 'files', 'b.log'), `${line}\n`);
  writeFileSync(join(engine.folder, 'objects', 'b.ndjson'), `${line}\n`);
  for (const source of all.filter((name) => name !== 'syslog')) {
    const { events } = await engine.found({ condition: `source = ${source} kind = fields` }, 1);
    const { object: _, ...found } = events[0]?.attributes ?? {};
    expect([source, found]).toEqual([source, { kind: 'fields', ...fields }]);
  }
}, 60_000);

test('what is no record is the same reject everywhere that lines are read', async () => {
  const broken = ['{"n":', '{"n":1}}', `{"${'x'.repeat(10)}`];
  for (const name of ['strict-http', 'strict-files', 'strict-objects']) mkdirSync(join(engine.folder, name));
  await engine.source('strict-http', { format: 'json' });
  await engine.source('strict-files', {
    kind: 'files',
    format: 'json',
    settings: { globs: [join(engine.folder, 'strict-files', '*.log')] },
  });
  await engine.source('strict-objects', {
    kind: 'objects',
    format: 'json',
    settings: { url: `file://${join(engine.folder, 'strict-objects')}/` },
  });
  await send(engine, 'strict-http', broken.join('\n'));
  writeFileSync(join(engine.folder, 'strict-files', 'a.log'), `${broken.join('\n')}\n`);
  writeFileSync(join(engine.folder, 'strict-objects', 'a.ndjson'), `${broken.join('\n')}\n`);
  const rejects = async (source: string) => {
    const { events } = await engine.found({ condition: `source = ${source}`, tiers: ['rejects'] }, broken.length);
    return events.map(({ body, attributes }) => `${body} ${attributes['parse.failed']}`).sort();
  };
  const first = await rejects('strict-http');
  expect(first.length).toBe(broken.length);
  expect(await rejects('strict-files')).toEqual(first);
  expect(await rejects('strict-objects')).toEqual(first);
}, 60_000);
