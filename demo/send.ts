import { createSocket, type Socket as Datagrams } from 'node:dgram';
import { connect, type Socket } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';
import { gzipSync } from 'node:zlib';
import { encodeOtlp } from '#core/formats/otlp.ts';
import type { LogsRequest } from '#core/formats/otlp-request.ts';
import type { DemoEvent, DemoSource } from './source.ts';

/** Where the intake listens. */
export interface Intake {
  readonly url: string;
  readonly syslogPort: number;
}

function logsRequest(source: DemoSource, events: readonly DemoEvent[]): LogsRequest {
  const attributes = [{ key: 'service.name', value: { stringValue: source.name } }];
  const logRecords = events.map(({ line }) => JSON.parse(line) as object);
  return { resourceLogs: [{ resource: { attributes }, scopeLogs: [{ scope: { name: 'skerry' }, logRecords }] }] };
}

async function post(url: string, headers: Record<string, string>, body: string | Uint8Array): Promise<void> {
  for (let attempt = 0; ; attempt++) {
    const answer = await fetch(url, { method: 'POST', headers, body: body as BodyInit }).catch(() => undefined);
    if (answer?.ok) {
      await answer.arrayBuffer();
      return;
    }
    if (answer && answer.status !== 429 && answer.status !== 503)
      throw new Error(`The intake answered ${answer.status}: ${await answer.text()}`);
    if (attempt > 120) throw new Error('The intake does not take the demo’s events.');
    await pause(500);
  }
}

/** Sends events over HTTP, as history or as they happen. */
export async function sendOverHttp(
  intake: Intake,
  source: DemoSource,
  token: string,
  events: readonly DemoEvent[],
  history: boolean,
): Promise<void> {
  const [first] = events;
  if (!first) return;
  const headers: Record<string, string> = { authorization: `Bearer ${token}` };
  if (history) headers['otter-backfill'] = new Date(first.time).toISOString();
  if (source.transport === 'otlp-json' || source.transport === 'otlp-protobuf') {
    const request = logsRequest(source, events);
    const binary = source.transport === 'otlp-protobuf';
    headers['content-type'] = binary ? 'application/x-protobuf' : 'application/json';
    await post(`${intake.url}/v1/logs`, headers, binary ? encodeOtlp(request) : JSON.stringify(request));
    return;
  }
  headers['content-encoding'] = 'gzip';
  headers['content-type'] = 'application/x-ndjson';
  await post(
    `${intake.url}/intake/${source.name}`,
    headers,
    gzipSync(events.map(({ line }) => line).join('\n'), { level: 1 }),
  );
}

/** Sends syslog messages as they happen, over UDP and TCP. */
export class SyslogSender {
  private readonly datagrams: Datagrams = createSocket('udp4').unref();
  private connection: Socket | undefined;

  constructor(private readonly port: number) {}

  send(source: DemoSource, events: readonly DemoEvent[]): void {
    for (const { line } of events) {
      if (source.transport === 'syslog-udp') this.datagrams.send(line, this.port, '127.0.0.1');
      else this.stream().write(`${Buffer.byteLength(line)} ${line}`);
    }
  }

  close(): void {
    this.datagrams.close();
    this.connection?.destroy();
  }

  private stream(): Socket {
    if (this.connection && !this.connection.destroyed) return this.connection;
    const connection = connect(this.port, '127.0.0.1');
    connection.on('error', () => connection.destroy());
    this.connection = connection;
    return connection;
  }
}
