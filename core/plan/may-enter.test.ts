import { expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { mayEnter, mayTake } from './may-enter.ts';

test.each([
  ['source = booking', true],
  ['source = booking-web', false],
  ['source in (booking, payments) severity >= error', true],
  ['source = book*', true],
  ['not source = booking', false],
  ['fleet = harbour', true],
  ['', true],
  ['source = (', false],
])('events of booking may enter by %j: %s', (when, may) => {
  expect(mayTake(when, 'booking')).toBe(may);
});

test('a sample may enter by its fleet, and not where its fields say otherwise', () => {
  const sample = batchOf([{ pier: 4 }, { pier: 5 }], 'gates');
  expect([...mayEnter('fleet = piers pier = 4', sample, arrival)]).toEqual([1, 0]);
});
