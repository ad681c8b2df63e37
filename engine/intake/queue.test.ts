import { expect, test } from 'vitest';
import { IntakeQueue, maxQueuedBytes, type Waiting } from './queue.ts';

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
  return { delivery, bytes, answer: () => {}, storeAway: () => true };
}

const open = new Promise<void>(() => {});

test('takes in order, as much as is wanted, and always at least one', async () => {
  const queue = new IntakeQueue();
  for (const bytes of [10, 20, 500]) queue.offer(waiting(bytes));
  expect((await queue.take(40, 0, open)).map(({ bytes }) => bytes)).toEqual([10, 20]);
  expect((await queue.take(40, 0, open)).map(({ bytes }) => bytes)).toEqual([500]);
});

test('refuses when full, and says when there is room again', async () => {
  const queue = new IntakeQueue();
  expect(queue.offer(waiting(maxQueuedBytes))).toBe(true);
  expect(queue.offer(waiting(1))).toBe(false);
  const room = queue.room();
  await queue.take(1, 0, open);
  await room;
  expect(queue.offer(waiting(1))).toBe(true);
});

test('what is put back comes first', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(1, 'later'));
  queue.putBack([waiting(1, 'earlier')]);
  expect((await queue.take(10, 0, open)).map(({ delivery }) => delivery.source)).toEqual(['earlier', 'later']);
});

test('a taker that waits is let go when the queue closes', async () => {
  const queue = new IntakeQueue();
  expect(await queue.take(10, 0, Promise.resolve())).toEqual([]);
});
