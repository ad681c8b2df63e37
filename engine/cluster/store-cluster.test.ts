import { setTimeout as pause } from 'node:timers/promises';
import { createConnection } from 'mysql2/promise';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { VolumeAnswer } from '#core/answers/search.ts';
import { newDatabase } from '#store/testing/database.ts';
import { startCluster, type TestCluster } from '../testing/cluster.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

/** How long a node is asleep, and how long senders of an engine may be without an acknowledgement (milliseconds). */
const asleep = 30_000;
const longestRefusal = 20_000;
const eventsOf = 50;
const lanesOf = 3;

let cluster: TestCluster;
let engines: readonly TestEngine[];

beforeAll(async () => {
  cluster = await startCluster(3);
  const [first] = cluster.nodes;
  const name = new URL(await newDatabase(first?.server ?? '')).pathname;
  const one = await startEngine('', undefined, cluster.addressFrom(0) + name);
  engines = [one, await startEngine('', one, cluster.addressFrom(1) + name)];
  await one.source('numbers');
});

afterAll(async () => {
  for (const engine of engines) await engine.stop();
  await cluster.stop();
});

/** What a node says of its cluster. */
async function stateOf(node: number): Promise<{ readonly size: string; readonly state: string } | undefined> {
  const connection = await createConnection({ uri: cluster.nodes[node]?.server ?? '', connectTimeout: 2_000 });
  try {
    const [rows] = await connection.query(
      "select max(if(variable_name = 'wsrep_cluster_size', variable_value, '')) as size, max(if(variable_name = 'wsrep_local_state_comment', variable_value, '')) as state from information_schema.global_status",
    );
    return (rows as { size: string; state: string }[])[0];
  } finally {
    connection.destroy();
  }
}

const isWhole = async (): Promise<boolean> => {
  const states = await Promise.all([0, 1, 2].map((node) => stateOf(node).catch(() => undefined)));
  return states.every((state) => state?.size === '3' && state.state === 'Synced');
};

test('a node that is asleep and one that is killed cost nobody an event, and no engine more than seconds', async () => {
  let isOver = false;
  let gap = 0;
  const sendAll = async (engine: TestEngine, lane: number): Promise<number> => {
    let last = performance.now();
    let sent = 0;
    for (; !isOver; sent++) {
      const lines = Array.from({ length: eventsOf }, (_, i) => `{"lane":${lane},"number":${sent * eventsOf + i}}`);
      for (;;) {
        const key = { 'idempotency-key': `lane-${lane}-${sent}` };
        const answer = await send(engine, 'numbers', lines.join('\n'), key).catch(() => undefined);
        await answer?.arrayBuffer().catch(() => undefined);
        gap = Math.max(gap, performance.now() - last);
        if (answer?.status === 200) break;
      }
      last = performance.now();
    }
    return sent;
  };
  const sending = Promise.all(
    engines.flatMap((engine, which) =>
      Array.from({ length: lanesOf }, (_, lane) => sendAll(engine, which * lanesOf + lane)),
    ),
  );
  const [one, other] = engines;
  if (!one || !other) throw new Error('there are no two engines');
  /** Waits until both engines find so many events: until each has a node to ask. */
  const bothFind = (count: number) =>
    expect
      .poll(
        async () => {
          const totals = [one, other].map(async (engine) => (await engine.search({ limit: 0 })).total);
          return Math.min(...(await Promise.all(totals).catch(() => [0])));
        },
        { timeout: 60_000 },
      )
      .toBeGreaterThan(count);
  await bothFind(5_000);

  const [first, second] = cluster.nodes;
  first?.child.kill('SIGSTOP');
  await pause(asleep);
  first?.child.kill('SIGCONT');
  await expect.poll(isWhole, { timeout: 60_000 }).toBe(true);
  expect(gap).toBeLessThan(longestRefusal);

  await bothFind(0);
  const before = (await other.search({ limit: 0 })).total;
  gap = 0;
  second?.child.kill('SIGKILL');
  await bothFind(before + 5_000);
  expect(gap).toBeLessThan(longestRefusal);
  isOver = true;
  const sent = await sending;
  await bothFind(0);

  const total = sent.reduce((sum, requests) => sum + requests * eventsOf, 0);
  const { summary } = await one.search({ summary: 'count() as all, distinct(lane) as lanes', limit: 0 });
  expect(summary?.rows[0]).toEqual([total, sent.length]);
  for (const [lane, requests] of sent.entries()) {
    const count = requests * eventsOf;
    const show = 'count() as events, min(number) as least, max(number) as most, sum(number) as all';
    const found = await one.search({ condition: `lane = ${lane}`, summary: show, limit: 0 });
    expect(found.summary?.rows[0]).toEqual([count, 0, count - 1, (count * (count - 1)) / 2]);
  }
  const { sums } = await one.ask<VolumeAnswer>('volume', { from: '-1h', to: '+1h', by: 'outcome' });
  expect(sums.map(({ outcome, events }) => [outcome, events])).toEqual([['kept', total]]);
});
