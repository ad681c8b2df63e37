import { expect, test } from 'vitest';
import { batchOf } from '../testing/batch-of.ts';
import { attributeBytes, bodyBytes, growth } from './footprint.ts';

const batch = batchOf([
  { body: 'gate å', n: 1, word: 'abc', open: true },
  { body: 'x', n: 2, word: 'å' },
  { body: 'yz', word: 'abc', open: false },
]);

test('a number takes eight bytes, a text its UTF-8, a flag one', () => {
  expect(bodyBytes(batch)).toBe(7 + 1 + 2);
  const bytes = Object.fromEntries([...batch.attributes].map(([name, columns]) => [name, attributeBytes(columns)]));
  expect(bytes).toEqual({ n: 16, word: 3 + 2 + 3, open: 2 });
});

test('growth counts what was added and what was removed, and nothing that stayed', () => {
  expect(growth(batch, batch)).toBe(0);
  const attributes = new Map(batch.attributes);
  attributes.delete('n');
  expect(growth(batch, { ...batch, attributes })).toBe(-16);
  expect(growth({ ...batch, attributes }, batch)).toBe(16);
  expect(growth(batch, { ...batch, body: batchOf([{ body: '' }]).body })).toBe(-10);
});
