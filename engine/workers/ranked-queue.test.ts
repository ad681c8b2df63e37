import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { expect, test } from 'vitest';
import { ahead, behind, RankedQueue } from './ranked-queue.ts';

test('what goes ahead is done before what waits, each in its order, and what is given up is not done', async () => {
  const filename = fileURLToPath(new URL('./testing/order-of-work.mjs', import.meta.url));
  const pool = new Piscina({
    filename,
    minThreads: 1,
    maxThreads: 1,
    taskQueue: new RankedQueue(),
    stricterFIFO: true,
  });
  const begun = pool.run({ name: 'begun' });
  const abort = new AbortController();
  const given = pool.run({ name: 'given up' }, { signal: abort.signal });
  const given2 = pool.run({ name: 'given up ahead', ...ahead }, { signal: abort.signal });
  const rest = ['a', 'b'].map((name) => pool.run({ name }));
  const first = ['x', 'y'].map((name) => pool.run({ name, ...ahead }));
  abort.abort();
  await expect(given).rejects.toThrow();
  await expect(given2).rejects.toThrow();
  const places = await Promise.all([begun, ...first, ...rest]);
  expect(places).toEqual(['1 begun', '2 x', '3 y', '4 a', '5 b']);
  await pool.destroy();
});

test('what is behind waits for others, but never for more than a few of them', async () => {
  const filename = fileURLToPath(new URL('./testing/order-of-work.mjs', import.meta.url));
  const pool = new Piscina({
    filename,
    minThreads: 1,
    maxThreads: 1,
    taskQueue: new RankedQueue(),
    stricterFIFO: true,
  });
  const begun = pool.run({ name: 'begun' });
  const last = [1, 2].map((n) => pool.run({ name: `behind ${n}`, ...behind }));
  const searches = Array.from({ length: 20 }, (_, n) => pool.run({ name: `search ${n}` }));
  const places = (await Promise.all([...last, ...searches, begun])).map(String);
  expect(places.slice(0, 2)).toEqual(['10 behind 1', '19 behind 2']);
  await pool.destroy();
});
