import { execFileSync } from 'node:child_process';
import { gzipSync } from 'node:zlib';
import { type AnyValueMap, SeverityNumber } from '@opentelemetry/api-logs';
import { OTLPLogExporter as JsonExporter } from '@opentelemetry/exporter-logs-otlp-http';
import { OTLPLogExporter as ProtobufExporter } from '@opentelemetry/exporter-logs-otlp-proto';
import { resourceFromAttributes } from '@opentelemetry/resources';
import { LoggerProvider, SimpleLogRecordProcessor } from '@opentelemetry/sdk-logs';
import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('web');
  await engine.source('piers', { kind: 'syslog', accepts: 'app = gate' });
  await engine.source('telemetry', { kind: 'otlp' });
});

afterAll(() => engine.stop());

describe('HTTP', () => {
  test('JSON lines, sent by curl with gzip, are found with time, severity, body and attributes', async () => {
    const time = new Date(Date.now() - 60_000).toISOString();
    const lines = `{"time":"${time}","level":"warn","msg":"gangway is wet","pier":{"number":4}}\n{"msg":"second"}`;
    const output = execFileSync(
      'curl',
      [
        '-sS',
        `${engine.intake}/intake/web`,
        '-H',
        'Authorization: Bearer token-web',
        '-H',
        'Content-Encoding: gzip',
        '--data-binary',
        '@-',
      ],
      { input: gzipSync(lines), encoding: 'utf8' },
    );
    expect(JSON.parse(output)).toEqual({ accepted: 2, rejected: 0 });
    const { events } = await engine.found({ condition: 'gangway' }, 1);
    expect(events[0]).toMatchObject({
      time: Date.parse(time),
      severity: 13,
      body: 'gangway is wet',
      source: 'web',
      attributes: { 'pier.number': 4 },
    });
  });

  test('a JSON array is taken item by item', async () => {
    const answer = await send(engine, 'web', '[{"msg":"array one"}, {"msg":"array two"}]');
    expect(await answer.json()).toEqual({ accepted: 2, rejected: 0 });
    expect((await engine.found({ condition: '"array two"' }, 1)).total).toBe(1);
  });

  test('a line that is wrong is rejected with its number, and the others are kept', async () => {
    const answer = await send(engine, 'web', '{"msg":"fine one"}\n{"msg": broken}\n{"msg":"fine two"}');
    expect(await answer.json()).toMatchObject({ accepted: 2, rejected: 1, problems: [{ record: 2 }] });
    expect((await engine.found({ condition: 'fine' }, 2)).total).toBe(2);
  });

  test('a missing, unknown or foreign token is refused with a sentence', async () => {
    const missing = await send(engine, 'web', '{}', { authorization: '' });
    expect(missing.status).toBe(401);
    expect(missing.headers.get('content-type')).toContain('application/problem+json');
    expect((await send(engine, 'web', '{}', { authorization: 'Bearer nothing' })).status).toBe(401);
    expect((await send(engine, 'piers', '{}', { authorization: 'Bearer token-web' })).status).toBe(403);
  });

  test('an oversized body is refused, an oversized line is rejected', async () => {
    for (let i = 0; i < 10; i++) expect((await send(engine, 'web', 'x'.repeat(17_000_000))).status).toBe(413);
    const long = await send(engine, 'web', `{"msg":"${'y'.repeat(300_000)}"}\n{"msg":"short enough"}`);
    expect(await long.json()).toMatchObject({ accepted: 1, rejected: 1, problems: [{ record: 1 }] });
  });

  test('a gzip bomb is refused before it unfolds, and a body that is no gzip is refused as such', async () => {
    const bomb = gzipSync(Buffer.alloc(200_000_000));
    expect((await send(engine, 'web', bomb, { 'content-encoding': 'gzip' })).status).toBe(413);
    expect((await send(engine, 'web', 'not gzip', { 'content-encoding': 'gzip' })).status).toBe(400);
  });

  test('bytes that are no UTF-8 are replaced and the event kept', async () => {
    const answer = await send(
      engine,
      'web',
      Buffer.concat([Buffer.from('{"msg":"broken '), Buffer.from([0xff, 0xfe]), Buffer.from(' bytes"}')]),
    );
    expect(await answer.json()).toMatchObject({ accepted: 1, notes: [expect.stringContaining('UTF-8')] });
    const { events } = await engine.found({ condition: 'bytes' }, 1);
    expect(events[0]?.body).toBe('broken \uFFFD\uFFFD bytes');
  });

  test('an absurd time is kept beside the time of arrival', async () => {
    const before = Date.now();
    const answer = await send(engine, 'web', '{"time":"9999-01-01T00:00:00Z","msg":"from the far future"}');
    expect(await answer.json()).toMatchObject({ accepted: 1, notes: [expect.stringContaining('time.given')] });
    const { events } = await engine.found({ condition: 'future' }, 1);
    expect(events[0]?.time).toBeGreaterThanOrEqual(before);
    expect(events[0]?.attributes['time.given']).toBe('9999-01-01T00:00:00.000Z');
  });

  test('ten thousand field names from one sender leave the event and 500 fields', async () => {
    const event = Object.fromEntries(Array.from({ length: 10_000 }, (_, i) => [`field${i}`, i]));
    const answer = await send(engine, 'web', JSON.stringify({ msg: 'very wide', ...event }));
    expect(await answer.json()).toMatchObject({ accepted: 1, notes: [expect.stringContaining('500')] });
    const { events } = await engine.found({ condition: '"very wide"' }, 1);
    expect(Object.keys(events[0]?.attributes ?? {}).length).toBe(500);
  });

  test('a pattern that would backtrack for ever elsewhere answers at once', async () => {
    await send(engine, 'web', `{"msg":"${'a'.repeat(50_000)}!"}`);
    expect((await engine.search({ condition: 'body matches /^(a+)+$/' })).total).toBe(0);
    await expect(engine.search({ condition: 'body matches /(?=a)b/' })).rejects.toThrow('look-around');
  });

  test('the same Idempotency-Key is stored once', async () => {
    const headers = { 'idempotency-key': 'only-once' };
    const answers = await Promise.all([1, 2, 3].map(() => send(engine, 'web', '{"msg":"once and for all"}', headers)));
    for (const answer of answers) expect(await answer.json()).toMatchObject({ accepted: 1 });
    expect((await engine.found({ condition: '"once and for all"' }, 1)).total).toBe(1);
  });

  test('health and metrics tell how it is', async () => {
    expect((await fetch(`${engine.intake}/health/live`)).status).toBe(200);
    expect((await fetch(`${engine.intake}/health/ready`)).status).toBe(200);
    const metrics = await (await fetch(`${engine.intake}/metrics`)).text();
    expect(metrics).toMatch(/otter_received_events_total [1-9]/);
    expect(metrics.trimEnd().endsWith('# EOF')).toBe(true);
  });
});

describe('syslog', () => {
  const log = (...args: string[]): void => {
    execFileSync('logger', ['--server', '127.0.0.1', '--port', String(engine.syslogPort), '--rfc5424', ...args]);
  };

  test('logger over UDP reaches the source whose condition takes it', async () => {
    log(
      '--udp',
      '--tag',
      'gate',
      '--priority',
      'local0.err',
      '--sd-id',
      'gate@64500',
      '--sd-param',
      'pier="4"',
      'barrier is stuck',
    );
    const { events } = await engine.found({ condition: 'barrier' }, 1);
    expect(events[0]).toMatchObject({ source: 'piers', severity: 17, body: 'barrier is stuck' });
    expect(events[0]?.attributes).toMatchObject({ app: 'gate', facility: 'local0', 'gate@64500.pier': '4' });
    expect(Math.abs((events[0]?.time ?? 0) - Date.now())).toBeLessThan(30_000);
  });

  test('logger over TCP with octet counting; a message of no known sender is kept too', async () => {
    log('--tcp', '--octet-count', '--tag', 'stranger', 'nobody knows me');
    const { events } = await engine.found({ condition: '"nobody knows"' }, 1);
    expect(events[0]).toMatchObject({ source: 'syslog', body: 'nobody knows me' });
  });
});

describe('OTLP', () => {
  const headers = { authorization: 'Bearer token-telemetry' };

  async function emit(exporter: JsonExporter | ProtobufExporter, body: string): Promise<void> {
    const provider = new LoggerProvider({
      resource: resourceFromAttributes({ 'service.name': 'wheelhouse', 'host.name': 'kittiwake' }),
      processors: [new SimpleLogRecordProcessor(exporter)],
    });
    const attributes: AnyValueMap = { speed: 12.5, docked: false, engine: { number: 2 }, tags: ['a', 'b'] };
    provider.getLogger('bridge').emit({ severityNumber: SeverityNumber.WARN2, severityText: 'WARN', body, attributes });
    await provider.shutdown();
  }

  test.each([
    ['protobuf', () => new ProtobufExporter({ url: `${engine.intake}/v1/logs`, headers })],
    ['JSON', () => new JsonExporter({ url: `${engine.intake}/v1/logs`, headers })],
  ])('the OpenTelemetry SDK with %s', async (name, exporter) => {
    await emit(exporter(), `rough sea in ${name}`);
    const { events } = await engine.found({ condition: `"rough sea in ${name}"` }, 1);
    expect(events[0]).toMatchObject({ source: 'telemetry', emitter: 'kittiwake', severity: 14 });
    expect(events[0]?.attributes).toMatchObject({
      'service.name': 'wheelhouse',
      scope: 'bridge',
      speed: 12.5,
      docked: false,
      'engine.number': 2,
      tags: '["a","b"]',
    });
    expect(Math.abs((events[0]?.time ?? 0) - Date.now())).toBeLessThan(30_000);
  });

  test('what is no OTLP is refused with the path of what is wrong', async () => {
    const answer = await fetch(`${engine.intake}/v1/logs`, {
      method: 'POST',
      headers: { ...headers, 'content-type': 'application/json' },
      body: '{"resourceLogs":[{"scopeLogs":[{"logRecords":[{"severityNumber":"loud"}]}]}]}',
    });
    expect(answer.status).toBe(400);
    expect(await answer.text()).toContain('resourceLogs[0].scopeLogs[0].logRecords[0].severityNumber');
  });
});
