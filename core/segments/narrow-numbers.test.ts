import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { narrowed, widened } from './narrow-numbers.ts';

const place = fc.constantFrom(1, 10, 100, 1_000, 1_000_000);
const decimals = fc.tuple(fc.array(fc.integer({ min: -2e6, max: 2e9 }), { minLength: 1 }), place);

describe('numbers in their narrowest form', () => {
  test('decimals of few places are whole numbers, and the same doubles again', () => {
    fc.assert(
      fc.property(decimals, ([whole, scale]) => {
        const values = Float64Array.from(whole, (number) => number / scale);
        const narrow = narrowed(values);
        expect([...widened(narrow.values, narrow.scale)]).toEqual([...values].map((value) => value + 0));
      }),
      { numRuns: 500 },
    );
    expect(narrowed(Float64Array.of(0.25, 1.5, -3)).values).toEqual(Int16Array.of(25, 150, -300));
    expect(narrowed(Float64Array.of(0.1, 127)).scale).toBe(10);
  });

  test('any numbers are the same again', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ noNaN: true })), (given) => {
        const values = Float64Array.from(given);
        const { values: narrow, scale } = narrowed(values);
        expect([...widened(narrow, scale)].map((value) => value + 0)).toEqual(given.map((value) => value + 0));
      }),
      { numRuns: 500 },
    );
  });

  test.each([
    ['few', [0, 1, -128, 127], Int8Array],
    ['some', [128, -32_768], Int16Array],
    ['many', [32_768, -2_147_483_647], Int32Array],
    ['more than 31 bits', [2_147_483_648, 1], Float64Array],
    ['thirds', [1 / 3, 1], Float64Array],
    ['small ones beside large ones', [0.000001, 1e6], Float64Array],
    ['infinity', [Number.POSITIVE_INFINITY], Float64Array],
    ['none', [], Int8Array],
  ])('%s', (_, values, kind) => {
    expect(narrowed(Float64Array.from(values)).values).toBeInstanceOf(kind);
  });

  test('missing ones become 0', () => {
    expect(narrowed(Float64Array.of(Number.NaN, 2)).values).toEqual(Int8Array.of(0, 2));
  });
});
