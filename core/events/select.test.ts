import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { batchOf } from '../testing/batch-of.ts';
import { type EventRecord, eventAt } from './batch.ts';
import { allRows, gather, rowsByTime } from './select.ts';

const event = fc.record(
  {
    msg: fc.string({ maxLength: 10 }),
    host: fc.constantFrom('a', 'b'),
    level: fc.constantFrom('info', 'error'),
    word: fc.string({ maxLength: 5 }),
    mixed: fc.oneof(fc.integer(), fc.string({ maxLength: 4 }), fc.boolean()),
    some: fc.boolean(),
  },
  { requiredKeys: [] },
);

/** An event with its attributes in order, as the columns they lie in may come in another. */
function plain(record: EventRecord): EventRecord {
  return { ...record, attributes: Object.fromEntries(Object.entries(record.attributes).sort()) };
}

describe('gathering', () => {
  test('rows of several batches are the events that they were, in the order given', () => {
    const part = fc.array(event, { minLength: 1, maxLength: 12 });
    fc.assert(
      fc.property(fc.array(part, { minLength: 1, maxLength: 4 }), fc.infiniteStream(fc.nat()), (lists, chance) => {
        const parts = lists.map((list) => {
          const batch = batchOf(list);
          const rows = Int32Array.from({ length: chance.next().value % 9 }, () => chance.next().value % batch.rows);
          return { batch, rows };
        });
        const whole = gather('test', parts);
        const wanted = parts.flatMap(({ batch, rows }) => [...rows].map((row) => plain(eventAt(batch, row))));
        expect(whole.rows).toBe(wanted.length);
        expect(Array.from({ length: whole.rows }, (_, row) => plain(eventAt(whole, row)))).toEqual(wanted);
        const sizes = parts.flatMap(({ batch, rows }) => [...rows].map((row) => batch.size[row]));
        expect([...whole.size]).toEqual(sizes);
      }),
      { numRuns: 200 },
    );
  });

  test('texts that no row uses are left behind, and attributes that none has are gone', () => {
    const batch = batchOf([{ a: 'long text', b: 1 }, { a: 'kept' }]);
    const half = gather('test', [{ batch, rows: Int32Array.of(1) }]);
    expect([...half.attributes.keys()]).toEqual(['a']);
    expect(half.attributes.get('a')?.text?.table.bytes.length).toBe(4);
  });

  test('a whole batch is itself, nothing of it is copied', () => {
    const batch = batchOf([{ a: 1 }, { a: 2 }]);
    expect(gather('test', [{ batch, rows: allRows(batch) }])).toBe(batch);
  });
});

test('rows by time, those of the same time in their order', () => {
  const batch = batchOf([1, 0, 1, 0].map((second) => ({ time: `2026-11-24T08:00:0${second}Z` })));
  expect([...rowsByTime(batch)]).toEqual([1, 3, 0, 2]);
});
