import { expect, test } from 'vitest';
import { oneAhead } from './one-ahead.ts';

interface Log {
  readonly made: number[];
  isEnded: boolean;
}

async function* counting(log: Log, until: number, failsAt = Number.POSITIVE_INFINITY): AsyncGenerator<number, void> {
  try {
    for (let n = 0; n < until; n++) {
      if (n === failsAt) throw new Error('no more');
      log.made.push(n);
      yield n;
    }
  } finally {
    log.isEnded = true;
  }
}

test('yields all items in order and prefetches one', async () => {
  const log: Log = { made: [], isEnded: false };
  const used: number[] = [];
  for await (const n of oneAhead(counting(log, 4))) {
    used.push(n);
    expect(log.made.length).toBe(Math.min(4, used.length + 1));
  }
  expect(used).toEqual([0, 1, 2, 3]);
  expect(log.isEnded).toBe(true);
});

test('ending early ends the source', async () => {
  const log: Log = { made: [], isEnded: false };
  for await (const n of oneAhead(counting(log, 1_000))) if (n === 1) break;
  expect(log).toEqual({ made: [0, 1, 2], isEnded: true });
});

test('a failure is thrown at its position', async () => {
  const log: Log = { made: [], isEnded: false };
  const used: number[] = [];
  const run = async (): Promise<void> => {
    for await (const n of oneAhead(counting(log, 9, 2))) used.push(n);
  };
  await expect(run()).rejects.toThrow('no more');
  expect(used).toEqual([0, 1]);
});
