import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { expect } from 'vitest';
import type { TestEngine } from './engine.ts';

interface Delivery {
  readonly status: number;
  readonly wait: number;
}

/**
 * Sends small deliveries to the source `canary`, one after the other, while something else is done; returns the longest wait for an
 * answer (milliseconds), and fails where one was refused. The canary has a thread of its own: what the thread of the test does
 * itself, such as making large bodies, is no wait for the engine.
 */
export async function longestWait(engine: TestEngine, work: () => Promise<unknown>): Promise<number> {
  const thread = new Worker(new URL('./canary-thread.mjs', import.meta.url), {
    workerData: { address: `${engine.intake}/intake/canary`, token: 'token-canary' },
  });
  await once(thread, 'message');
  try {
    await work();
    thread.postMessage('end');
    const [deliveries]: Delivery[][] = await once(thread, 'message');
    for (const { status } of deliveries ?? []) expect(status).toBe(200);
    return Math.max(...(deliveries ?? []).map(({ wait }) => wait));
  } finally {
    await thread.terminate();
  }
}
