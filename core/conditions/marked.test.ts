import fc from 'fast-check';
import { expect, test } from 'vitest';
import { eachMarked, markedRows } from './marked.ts';

const anyMask = fc
  .tuple(fc.array(fc.constantFrom(0, 0, 0, 0, 1), { maxLength: 70 }), fc.integer({ min: 0, max: 5 }))
  .map(([marks, offset]) => {
    // Masks may lie anywhere in a buffer.
    const mask = new Uint8Array(new ArrayBuffer(marks.length + offset), offset, marks.length);
    mask.set(marks);
    return mask;
  });

test('marked rows are found in their order, wherever the mask is', () => {
  fc.assert(
    fc.property(anyMask, (mask) => {
      const expected = [...mask].flatMap((mark, row) => (mark === 1 ? [row] : []));
      expect([...markedRows(mask)]).toEqual(expected);
      const seen: number[] = [];
      eachMarked(mask, (row) => seen.push(row));
      expect(seen).toEqual(expected);
    }),
  );
});

test('a full mask and one of many rows', () => {
  const mask = new Uint8Array(100_003).fill(1);
  expect(markedRows(mask)).toHaveLength(100_003);
  mask.fill(0, 1, 100_002);
  expect([...markedRows(mask)]).toEqual([0, 100_002]);
});
