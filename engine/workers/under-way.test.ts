import { expect, test, vi } from 'vitest';
import { UnderWay } from './under-way.ts';

test('who gives way waits until nothing is being done, or for as long as it has patience', async () => {
  const work = new UnderWay();
  await work.quiet(1e9);
  let end = (): void => {};
  const done = work.while(new Promise<void>((resolve) => (end = resolve)));
  const order: string[] = [];
  const waiting = work.quiet(1e9).then(() => order.push('quiet'));
  await work.quiet(1).then(() => order.push('patience is over'));
  end();
  await done;
  await waiting;
  expect(order).toEqual(['patience is over', 'quiet']);
});

test('what fails is over too, and it is known how long nothing has been done', async () => {
  vi.useFakeTimers();
  try {
    const work = new UnderWay();
    expect(work.hasBegun).toBe(false);
    await expect(work.while(Promise.reject(new Error('broken')))).rejects.toThrow('broken');
    vi.advanceTimersByTime(5_000);
    expect([work.hasBegun, work.idleFor]).toEqual([true, 5_000]);
    work.forget();
    expect(work.hasBegun).toBe(false);
  } finally {
    vi.useRealTimers();
  }
});
