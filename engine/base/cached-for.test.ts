import { expect, test } from 'vitest';
import { cachedBy, cachedFor } from './cached-for.ts';

test('the same answer is given for a while, then another one', async () => {
  let made = 0;
  const cached = cachedFor(10, async () => ++made);
  expect([await cached(0), await cached(10), await cached(11)]).toEqual([1, 1, 2]);
});

test('those who ask while it is made get the answer that is made', async () => {
  let made = 0;
  const cached = cachedFor(10, async () => ++made);
  expect(await Promise.all([cached(0), cached(1)])).toEqual([1, 1]);
});

test('a failure is not given again', async () => {
  let made = 0;
  const cached = cachedFor(10, async () => {
    if (++made === 1) throw new Error('away');
    return made;
  });
  await expect(cached(0)).rejects.toThrow('away');
  expect(await cached(1)).toBe(2);
});

test('what is asked with another key is made anew', async () => {
  const cached = cachedBy(
    10,
    ({ key }: { readonly key: number; readonly text: string }) => key,
    async ({ text }) => text,
  );
  expect(await cached({ key: 1, text: 'a' }, 0)).toBe('a');
  expect(await cached({ key: 1, text: 'b' }, 1)).toBe('a');
  expect(await cached({ key: 2, text: 'b' }, 2)).toBe('b');
});

test('a failure leaves what was asked for after it', async () => {
  let fail = (_: Error): void => {};
  const failing = new Promise<string>((_, reject) => {
    fail = reject;
  });
  const made: string[] = [];
  const cached = cachedBy(
    10,
    (key: string) => key,
    async (key) => {
      made.push(key);
      return key === 'first' ? await failing : key;
    },
  );
  const first = cached('first', 0);
  expect(await cached('second', 1)).toBe('second');
  fail(new Error('away'));
  await expect(first).rejects.toThrow('away');
  expect(await cached('second', 2)).toBe('second');
  expect(made).toEqual(['first', 'second']);
});
