import { Readable } from 'node:stream';
import { expect, test } from 'vitest';
import { BodyBudget } from './body-budget.ts';

const body = (...sizes: readonly number[]): Readable => Readable.from(sizes.map((size) => Buffer.alloc(size, 7)));

test('a body is read whole, and its bytes count until they are given back', async () => {
  const budget = new BodyBudget(100);
  const read = await budget.read(body(10, 20), 50);
  expect(read).toEqual({ bytes: Buffer.alloc(30, 7) });
  expect(budget.bytes).toBe(30);
  budget.release(30);
  expect(budget.bytes).toBe(0);
});

test('one that is too long, or for which there is no room, leaves nothing behind', async () => {
  const budget = new BodyBudget(100);
  expect(await budget.read(body(40, 40), 50)).toEqual({ refused: 'too-long' });
  expect(budget.bytes).toBe(0);
  await budget.read(body(70), 80);
  expect(await budget.read(body(20, 20), 80)).toEqual({ refused: 'no-room' });
  expect(budget.bytes).toBe(70);
});

test('one that breaks off gives its bytes back', async () => {
  const budget = new BodyBudget(100);
  const broken = Readable.from(
    (function* () {
      yield Buffer.alloc(30);
      throw new Error('gone');
    })(),
  );
  await expect(budget.read(broken, 50)).rejects.toThrow('gone');
  expect(budget.bytes).toBe(0);
});
