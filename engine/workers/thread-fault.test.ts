import { expect, test } from 'vitest';
import { StoreFault } from '#store/fault.ts';
import { withFault, withoutFault } from './thread-fault.ts';

/** What comes out at the other end of the way between two threads. */
const passedOn = async <Done extends object | string | boolean>(work: () => Promise<Done>): Promise<Done> =>
  await withoutFault(withFault(work).then((answer) => structuredClone(answer)));

test('a fault of the store is one in the other thread too; what was done stays as it is', async () => {
  const fault = new StoreFault('away', 'ECONNREFUSED', 'segment');
  await expect(passedOn(() => Promise.reject(fault))).rejects.toEqual(fault);
  await expect(passedOn(() => Promise.reject(new Error('broken')))).rejects.toThrow('broken');
  expect(await passedOn(async () => ({ found: 7 }))).toEqual({ found: 7 });
  expect([await passedOn(async () => 'text'), await passedOn(async () => false)]).toEqual(['text', false]);
});
