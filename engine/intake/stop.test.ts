import { connect, type Socket } from 'node:net';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.publish({
    plan: 1,
    pipelines: [
      {
        id: 'bells',
        title: 'Bells',
        when: 'source = bells',
        steps: [{ extract: { from: 'body', template: 'stroke {n:int}' } }],
      },
    ],
    tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
  });
  await engine.source('bells', { kind: 'syslog', accepts: 'app = bell' });
});

afterAll(() => engine.stop());

/** A sender as there are many: it keeps its connection, opens another when that ends, and never sends anything twice. */
class Sender {
  sent = 0;
  private socket: Socket | undefined;
  private timer: NodeJS.Timeout | undefined;

  constructor(private readonly port: number) {
    this.open();
    this.timer = setInterval(() => this.write(), 2);
  }

  private open(): void {
    const socket = connect(this.port, '127.0.0.1', () => (this.socket = socket));
    const next = (): void => {
      if (this.socket === socket || !socket.connecting) this.socket = undefined;
    };
    socket.on('end', next);
    socket.on('error', () => {});
    socket.on('close', () => {
      next();
      if (this.timer) setTimeout(() => this.open(), 20);
    });
  }

  private write(): void {
    if (!this.socket) return;
    for (let i = 0; i < 5; i++) {
      const message = `<14>1 ${new Date().toISOString()} kittiwake bell - - - stroke ${this.sent++}`;
      this.socket.write(`${message.length} ${message}`);
    }
  }

  async stop(): Promise<void> {
    clearInterval(this.timer);
    this.timer = undefined;
    const { socket } = this;
    if (socket) await new Promise<void>((resolve) => socket.end(resolve));
  }
}

test('through six restarts in good order nothing of what was sent over TCP is missing, and nothing doubled', async () => {
  const sender = new Sender(engine.syslogPort);
  for (let i = 0; i < 6; i++) {
    const before = sender.sent;
    await expect.poll(() => sender.sent, { timeout: 20_000, interval: 20 }).toBeGreaterThan(before + 300);
    await engine.close();
    await engine.restart();
  }
  await sender.stop();
  await engine.found({ condition: 'source = bells', limit: 0 }, sender.sent);
  const summary = 'count() as c, sum(n) as s';
  const { summary: found } = await engine.search({ condition: 'source = bells', summary, limit: 0 });
  expect(found?.rows[0]).toEqual([sender.sent, (sender.sent * (sender.sent - 1)) / 2]);
  const doubled = await engine.search({
    condition: 'source = bells',
    summary: 'count() as c by n having c > 1',
    limit: 0,
  });
  expect(doubled.summary?.rows).toEqual([]);
}, 300_000);
