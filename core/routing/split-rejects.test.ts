import { expect, test } from 'vitest';
import { eventAt, failureAttribute } from '../events/batch.ts';
import { batchOf } from '../testing/batch-of.ts';
import { splitRejects } from './split-rejects.ts';

const rejects = batchOf([
  { msg: 'fare x', [failureAttribute]: 'fares/1: expected n (int)' },
  { msg: 'fee 3', [failureAttribute]: 'fares/1: expected “fare ”' },
  { msg: 'fare y', pier: 4, [failureAttribute]: 'fares/1: expected n (int)' },
]);

const bodies = (batch: typeof rejects): readonly string[] =>
  Array.from({ length: batch.rows }, (_, row) => eventAt(batch, row).body);

test('rejects of one reason are events as they arrived again; the others stay what they are', () => {
  const { meant, left } = splitRejects(rejects, 'fares/1: expected n (int)');
  expect(bodies(meant)).toEqual(['fare x', 'fare y']);
  expect(meant.attributes.has(failureAttribute)).toBe(false);
  expect(bodies(left)).toEqual(['fee 3']);
  expect(eventAt(left, 0).attributes[failureAttribute]).toBe('fares/1: expected “fare ”');
});

test('without a reason all are meant, and those that brought no fields are unparsed', () => {
  const { meant, left } = splitRejects(rejects, '');
  expect([meant.rows, left.rows]).toEqual([3, 0]);
  const plain = batchOf([{ msg: 'fare x', [failureAttribute]: 'r' }]);
  expect([...splitRejects(plain, 'r').meant.parsed]).toEqual([0]);
});

test('a reason that none has picks none', () => {
  const { meant, left } = splitRejects(rejects, 'fares/2: no');
  expect([meant.rows, left.rows]).toEqual([0, 3]);
});
