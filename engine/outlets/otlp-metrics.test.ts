import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { firstPlan } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { addMetric } from '#store/metrics/metrics.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { openLog } from '../base/log.ts';
import type { Pools } from '../workers/pools.ts';
import { OtlpMetrics } from './otlp-metrics.ts';

let database: Database;
let receiver: Server;
let status: number;
let taken: { readonly type: string | undefined; readonly body: string }[];
let lines: { readonly msg: string }[];

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  status = 200;
  taken = [];
  lines = [];
  receiver = createServer(async (request, answer) => {
    let body = '';
    for await (const piece of request) body += piece;
    taken.push({ type: request.headers['content-type'], body });
    answer.writeHead(status).end();
  });
  await new Promise<void>((done) => receiver.listen(0, '127.0.0.1', done));
});

afterEach(async () => {
  receiver.close();
  await database.close();
});

/** What sends, with threads that make two messages of any metrics. */
function sender(port = (receiver.address() as AddressInfo).port): OtlpMetrics {
  const pools = { background: async () => ['{"first":1}', '{"second":2}'] } as unknown as Pools;
  const log = openLog('info', { write: (line) => void lines.push(JSON.parse(line)) });
  const metrics = [{ id: 'lifts', name: 'lifts', when: '', measure: 'count' }];
  const plan = () => ({ ...firstPlan, metrics });
  return new OtlpMetrics({ database, pools, plan, log, url: `http://127.0.0.1:${port}/v1/metrics` });
}

test('metrics are sent as they are now; of those that nothing came for there is nothing to send', async () => {
  expect(await sender().send(Date.now())).toBe(true);
  expect(taken).toEqual([]);
  await addMetric(database.db, 'lifts', 'count');
  expect(await sender().send(Date.now())).toBe(true);
  expect(taken).toEqual([
    { type: 'application/json', body: '{"first":1}' },
    { type: 'application/json', body: '{"second":2}' },
  ]);
});

test('a receiver that takes nothing is reported once, and again when it does', async () => {
  await addMetric(database.db, 'lifts', 'count');
  const otlp = sender();
  status = 503;
  expect(await otlp.send(Date.now())).toBe(false);
  expect(await otlp.send(Date.now())).toBe(false);
  expect(taken).toHaveLength(2);
  expect(lines.map(({ msg }) => msg)).toEqual([expect.stringMatching(/could not be sent .* it answered 503/)]);
  status = 200;
  expect(await otlp.send(Date.now())).toBe(true);
  expect(lines.map(({ msg }) => msg)[1]).toMatch('sent to http://127.0.0.1');
  // Nobody listens on port 1.
  expect(await sender(1).send(Date.now())).toBe(false);
});
