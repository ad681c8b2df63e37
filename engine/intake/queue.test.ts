import { expect, test } from 'vitest';
import { IntakeQueue, maxQueuedBytes, senderShare, type Waiting } from './queue.ts';

function waiting(bytes: number, source = 's'): Waiting {
  const delivery = {
    source,
    shape: 'lines',
    format: 'auto',
    gzip: false,
    chunks: [],
    received: 0,
    backfill: false,
    tapeEvery: 1,
  } as const;
  return { delivery, bytes, answer: () => {} };
}

async function taken(queue: IntakeQueue, bytes: number): Promise<readonly Waiting[]> {
  return (await queue.take(bytes, 0))?.deliveries ?? [];
}

test('takes in order, as much as is wanted, and always at least one', async () => {
  const queue = new IntakeQueue();
  for (const bytes of [10, 20, 500]) queue.offer(waiting(bytes));
  expect((await taken(queue, 40)).map(({ bytes }) => bytes)).toEqual([10, 20]);
  expect((await taken(queue, 40)).map(({ bytes }) => bytes)).toEqual([500]);
});

test('refuses when full, and says when there is room again', async () => {
  const queue = new IntakeQueue();
  expect(queue.offer(waiting(maxQueuedBytes))).toBe(true);
  expect(queue.offer(waiting(1))).toBe(false);
  const room = queue.room();
  await queue.take(1, 0);
  await room;
  expect(queue.offer(waiting(1))).toBe(true);
});

test('what is put back comes before what its sender sent later', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(3));
  queue.putBack([waiting(1), waiting(2)]);
  expect((await taken(queue, 10)).map(({ bytes }) => bytes)).toEqual([1, 2, 3]);
});

test('a taker that waits is let go when the queue closes', async () => {
  const queue = new IntakeQueue();
  const group = queue.take(10, 0);
  queue.close();
  expect(await group).toBeUndefined();
});

test('senders take turns: one that fills the queue holds up nobody', async () => {
  const queue = new IntakeQueue();
  let offered = 0;
  while (queue.offer(waiting(500_000, 'flood'))) offered++;
  expect(offered * 500_000).toBe(senderShare);
  expect(queue.offer(waiting(100, 'canary'))).toBe(true);
  const sources = (await taken(queue, 4_000_000)).map(({ delivery }) => delivery.source);
  expect(sources).toContain('canary');
  expect(sources.length).toBeGreaterThan(5);
});

test('what unpacks to much comes alone, and leaves a lane to the others', async () => {
  const queue = new IntakeQueue();
  for (let i = 0; i < 3; i++) queue.offer({ ...waiting(1_000, 'bombs'), unpacked: 60_000_000 });
  queue.offer(waiting(100, 'canary'));
  const heavy = await queue.take(12_000_000, 0);
  expect(heavy?.deliveries).toHaveLength(1);
  const light = await queue.take(12_000_000, 0);
  expect(light?.deliveries.map(({ delivery }) => delivery.source)).toEqual(['canary']);
  let third: readonly Waiting[] | undefined;
  const next = queue.take(12_000_000, 0).then((group) => (third = group?.deliveries));
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(third).toBeUndefined();
  heavy?.done();
  await next;
  expect(third).toHaveLength(1);
});

test('a heavy delivery behind light ones waits for its own group, and holds up none of another sender', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(10));
  queue.offer({ ...waiting(20), unpacked: 60_000_000 });
  queue.offer(waiting(30, 'other'));
  expect((await taken(queue, 12_000_000)).map(({ bytes }) => bytes)).toEqual([10, 30]);
  expect((await taken(queue, 12_000_000)).map(({ bytes }) => bytes)).toEqual([20]);
});

test('what is given up is told, and nothing comes back into a queue that was', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(1));
  queue.abandon();
  queue.putBack([waiting(2)]);
  expect(await queue.take(10, 0)).toBeUndefined();
  expect(queue.abandoned.map(({ bytes }) => bytes)).toEqual([1, 2]);
});

test('what waits when the queue closes is taken still', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(1));
  queue.close();
  expect((await queue.take(10, 0))?.deliveries).toHaveLength(1);
  expect(await queue.take(10, 0)).toBeUndefined();
});
