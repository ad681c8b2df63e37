import fc from 'fast-check';
import { expect, test } from 'vitest';
import { NumberReader, NumberWriter } from './number-bytes.ts';

test('numbers and texts come back as they were written, in their order', () => {
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.double(), fc.maxSafeInteger(), fc.integer(), fc.string({ unit: 'grapheme' }))),
      (values) => {
        const writer = new NumberWriter();
        for (const value of values) typeof value === 'string' ? writer.text(value) : writer.number(value);
        const reader = new NumberReader(writer.bytes());
        const read = values.map((value) => (typeof value === 'string' ? reader.text() : reader.number()));
        expect(read).toEqual(values);
      },
    ),
  );
});

test('small whole numbers take a byte, and what is cut off reads as nothing', () => {
  const writer = new NumberWriter();
  for (const value of [0, -3, 60]) writer.number(value);
  writer.text('pier');
  const bytes = writer.bytes();
  expect(bytes.length).toBe(8);
  const reader = new NumberReader(bytes.subarray(0, 2));
  expect([reader.number(), reader.number(), reader.number(), reader.text()]).toEqual([0, -3, 0, '']);
});
