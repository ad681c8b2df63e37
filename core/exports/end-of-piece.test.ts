import { expect, test } from 'vitest';
import { countUp } from '../events/select.ts';
import { batchOf } from '../testing/batch-of.ts';
import { endOfPiece } from './end-of-piece.ts';

/** So many events whose records have `size` bytes, with fields `f0`, `f1` and so on. */
function batchOfSize(events: number, size: number, fields = 1) {
  const object = Object.fromEntries(Array.from({ length: fields }, (_, n) => [`f${n}`, n]));
  const batch = batchOf(Array.from({ length: events }, () => object));
  return { ...batch, size: batch.size.map(() => size) };
}

test.each([
  { events: 10_000, size: 200, fields: 1, ends: [8_192, 10_000] },
  { events: 100, size: 10_000_000, fields: 1, ends: [4, 8] },
  { events: 3, size: 2_000_000_000, fields: 1, ends: [1, 2, 3] },
  { events: 3_000, size: 0, fields: 255, ends: [3_000] },
])('$events events of $size bytes with $fields fields', ({ events, size, fields, ends }) => {
  const rows = countUp(events);
  const batch = batchOfSize(events, size, fields);
  let from = 0;
  for (const end of ends) {
    expect(endOfPiece(batch, rows, from)).toBe(end);
    from = end;
  }
});
