import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { textColumn } from '../events/columns.ts';
import { encode } from '../events/text-table.ts';
import { batchOf } from '../testing/batch-of.ts';
import {
  filterOfNumbers,
  filterOfTexts,
  filterOfWords,
  mayContain,
  numberHash,
  textHash,
  ValueFilterBuilder,
} from './value-filter.ts';

const hashOf = (text: string): number => {
  const bytes = encode(text.toLowerCase());
  return textHash(bytes, 0, bytes.length);
};

test('a filter never denies what it was made of', () => {
  fc.assert(
    fc.property(fc.array(fc.integer(), { minLength: 1, maxLength: 500 }), (hashes) => {
      const builder = new ValueFilterBuilder(hashes.length);
      for (const hash of hashes) builder.add(hash);
      const filter = builder.filter();
      if (!filter) throw new Error('too full');
      expect(hashes.every((hash) => mayContain(filter, hash))).toBe(true);
    }),
  );
});

test('of what it was not made of few pass, and few values need few bytes', () => {
  const values = Array.from({ length: 20_000 }, (_, i) => `order-${i}`);
  const filter = filterOfTexts(textColumn(values));
  if (!filter) throw new Error('too full');
  const passed = Array.from({ length: 20_000 }, (_, i) => hashOf(`order-x${i}`)).filter((hash) =>
    mayContain(filter, hash),
  );
  expect(passed.length / 20_000).toBeLessThan(0.06);
  expect(filter.length).toBeLessThanOrEqual(32_768);
  expect(filterOfTexts(textColumn(values.map((_, i) => `pier-${i % 3}`)))?.length).toBe(8);
});

test('more than a filter was made for: it is not kept', () => {
  const builder = new ValueFilterBuilder(10);
  for (let i = 0; i < 5_000; i++) builder.add(numberHash(i));
  expect(builder.filter()).toBeUndefined();
});

describe('values', () => {
  test('texts pass in any case, beyond ASCII too, and as the numbers they read as', () => {
    const filter = filterOfTexts(textColumn(['Färöer', 'NORTH', '007', '-2.5', undefined]));
    if (!filter) throw new Error('too full');
    for (const text of ['FÄRÖER', 'north', '007']) expect(mayContain(filter, hashOf(text))).toBe(true);
    for (const value of [7, -2.5]) expect(mayContain(filter, numberHash(value))).toBe(true);
  });

  test('numbers pass, both zeros as one', () => {
    const filter = filterOfNumbers(Float64Array.of(-0, 1.5, Number.NaN, 1e300));
    if (!filter) throw new Error('too full');
    for (const value of [0, -0, 1.5, 1e300]) expect(mayContain(filter, numberHash(value))).toBe(true);
  });

  test('words pass as a search of bodies sees them', () => {
    const filter = filterOfWords(batchOf([{ msg: 'Gate_7 OPEN, (Färöer) x' }, { msg: '' }]).body);
    if (!filter) throw new Error('too full');
    for (const word of ['gate_7', 'open', 'x']) expect(mayContain(filter, hashOf(word))).toBe(true);
  });
});
