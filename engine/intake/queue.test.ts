import { expect, test, vi } from 'vitest';
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

/** A queue that knows that senders take the usual time. */
function queueKnowing(...sources: readonly string[]): IntakeQueue {
  const queue = new IntakeQueue();
  for (const source of sources) queue.took(waiting(1_000_000, source), 25);
  return queue;
}

const atOnce = { least: 0, most: 0 };

async function taken(queue: IntakeQueue, bytes: number): Promise<readonly Waiting[]> {
  return (await queue.take(bytes, atOnce)) ?? [];
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
  await queue.takeHeavy();
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
  const group = queue.take(10, atOnce);
  queue.close();
  expect(await group).toBeUndefined();
});

test('senders take turns: one that fills the queue holds up nobody', async () => {
  const queue = queueKnowing('flood');
  let offered = 0;
  while (queue.offer(waiting(500_000, 'flood'))) offered++;
  expect(offered * 500_000).toBe(senderShare);
  expect(queue.offer(waiting(100, 'canary'))).toBe(true);
  const sources = (await taken(queue, 4_000_000)).map(({ delivery }) => delivery.source);
  expect(sources).toContain('canary');
  expect(sources.length).toBeGreaterThan(5);
});

const many = 12_000_000;

function sourcesOf(group: readonly Waiting[] | undefined): readonly string[] | undefined {
  return group?.map(({ delivery }) => delivery.source);
}

test('what unpacks to much is taken alone, by who waits for such, and the rest by the others', async () => {
  const queue = new IntakeQueue();
  for (let i = 0; i < 2; i++) queue.offer({ ...waiting(1_000, 'bombs'), unpacked: 60_000_000 });
  queue.offer(waiting(100, 'canary'));
  expect(sourcesOf(await queue.take(many, atOnce))).toEqual(['canary']);
  let light: readonly Waiting[] | undefined;
  const next = queue.take(many, atOnce).then((group) => (light = group));
  expect(sourcesOf(await queue.takeHeavy())).toEqual(['bombs']);
  expect(sourcesOf(await queue.takeHeavy())).toEqual(['bombs']);
  expect(light).toBeUndefined();
  queue.offer(waiting(100, 'canary'));
  await next;
  expect(sourcesOf(light)).toEqual(['canary']);
});

test('a heavy delivery behind light ones keeps its place, and holds up none of another sender', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(10));
  queue.offer({ ...waiting(20), unpacked: 60_000_000 });
  queue.offer(waiting(25));
  queue.offer(waiting(30, 'other'));
  const heavy = queue.takeHeavy();
  expect((await taken(queue, many)).map(({ bytes }) => bytes)).toEqual([10, 30]);
  expect((await heavy)?.map(({ bytes }) => bytes)).toEqual([20]);
  expect((await taken(queue, many)).map(({ bytes }) => bytes)).toEqual([25]);
});

test('what took long is expected to take long again: not with others, and from some time on by itself', async () => {
  const queue = queueKnowing('canary', 'other');
  queue.took(waiting(1_000_000, 'slow'), 250);
  queue.took(waiting(1_000_000, 'slower'), 2_000);
  for (const source of ['canary', 'slow', 'slow', 'slower', 'other']) queue.offer(waiting(1_000_000, source));
  expect(sourcesOf(await queue.take(many, atOnce))).toEqual(['canary', 'slow', 'other']);
  expect(sourcesOf(await queue.take(many, atOnce))).toEqual(['slow']);
  expect(sourcesOf(await queue.takeHeavy())).toEqual(['slower']);
});

test('what found no room in a group is first in the next one, however much others send', async () => {
  const queue = queueKnowing('flood');
  queue.took(waiting(1_000_000, 'slow'), 299);
  for (let i = 0; i < 20; i++) queue.offer(waiting(1_000_000, 'flood'));
  queue.offer(waiting(1_000_000, 'slow'));
  expect(sourcesOf(await queue.take(4_000_000, atOnce))).not.toContain('slow');
  expect(sourcesOf(await queue.take(4_000_000, atOnce))?.[0]).toBe('slow');
});

test('much of a sender of whom nothing is known comes alone until it is', async () => {
  const queue = new IntakeQueue();
  for (const source of ['new', 'canary']) queue.offer(waiting(source === 'new' ? 300_000 : 100, source));
  expect(sourcesOf(await queue.take(many, atOnce))).toEqual(['canary']);
  const [first] = (await queue.takeHeavy()) ?? [];
  queue.took(first as Waiting, 8);
  queue.offer(waiting(300_000, 'new'));
  expect(sourcesOf(await queue.take(many, atOnce))).toEqual(['new']);
});

test('what waits goes to the others as soon as it is known to be for them', async () => {
  const queue = new IntakeQueue();
  for (let i = 0; i < 2; i++) queue.offer(waiting(300_000, 'new'));
  const [first] = (await queue.takeHeavy()) ?? [];
  const light = queue.take(many, atOnce);
  queue.took(first as Waiting, 8);
  expect(sourcesOf(await light)).toEqual(['new']);
  for (let i = 0; i < 2; i++) queue.offer(waiting(1_000_000, 'new'));
  const [second] = (await queue.take(1_000_000, atOnce)) ?? [];
  const heavy = queue.takeHeavy();
  queue.took(second as Waiting, 2_000);
  expect(sourcesOf(await heavy)).toEqual(['new']);
});

test('once the queue is closed whoever takes gets whatever is left', async () => {
  const queue = new IntakeQueue();
  queue.offer({ ...waiting(20), unpacked: 60_000_000 });
  queue.offer(waiting(30));
  queue.close();
  expect((await queue.take(many, atOnce))?.map(({ bytes }) => bytes)).toEqual([20]);
  expect((await queue.takeHeavy())?.map(({ bytes }) => bytes)).toEqual([30]);
  expect(await queue.takeHeavy()).toBeUndefined();
});

test('what is given up is reported, and nothing comes back into a queue that was', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(1));
  queue.abandon();
  queue.putBack([waiting(2)]);
  expect(await queue.take(10, atOnce)).toBeUndefined();
  expect(queue.abandoned.map(({ bytes }) => bytes)).toEqual([1, 2]);
});

test('what waits when the queue closes is taken still', async () => {
  const queue = new IntakeQueue();
  queue.offer(waiting(1));
  queue.close();
  expect(await queue.take(10, atOnce)).toHaveLength(1);
  expect(await queue.take(10, atOnce)).toBeUndefined();
});

test('what lingers waits for others, what somebody waits for hardly does', async () => {
  vi.useFakeTimers();
  try {
    const queue = queueKnowing('s', 'other');
    const group = queue.take(many, { least: 60, most: 500 });
    queue.offer({ ...waiting(10), lingers: true });
    let isTaken = false;
    void group.then(() => (isTaken = true));
    await vi.advanceTimersByTimeAsync(300);
    queue.offer({ ...waiting(20), lingers: true });
    expect(isTaken).toBe(false);
    queue.offer(waiting(30, 'other'));
    await vi.advanceTimersByTimeAsync(59);
    expect(isTaken).toBe(false);
    await vi.advanceTimersByTimeAsync(1);
    expect((await group)?.map(({ bytes }) => bytes)).toEqual([10, 20, 30]);
    const alone = queue.take(many, { least: 60, most: 500 });
    queue.offer({ ...waiting(40), lingers: true });
    await vi.advanceTimersByTimeAsync(500);
    expect(await alone).toHaveLength(1);
    const last = queue.take(many, { least: 60, most: 500 });
    queue.offer({ ...waiting(50), lingers: true });
    queue.close();
    await vi.advanceTimersByTimeAsync(60);
    expect(await last).toHaveLength(1);
  } finally {
    vi.useRealTimers();
  }
});

test('what came while one taker waits for more is left to it; what it leaves goes to the next', async () => {
  const queue = queueKnowing('s');
  const [first, second] = [queue.take(15, atOnce), queue.take(many, atOnce)];
  for (const bytes of [10, 20, 30]) queue.offer(waiting(bytes));
  const sizes = (await Promise.all([first, second])).map((group) => group?.map(({ bytes }) => bytes));
  expect(sizes).toEqual([[10], [20, 30]]);
});
