import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type EventRecord, eventAt } from '../events/batch.ts';
import { allRows, gather } from '../events/select.ts';
import { batchOf } from '../testing/batch-of.ts';
import { encodePart, type PartColumn } from './part.ts';
import { decodeSegment, encodeSegment, isWanted } from './segment.ts';

const event = fc.record(
  {
    msg: fc.string({ maxLength: 12 }),
    host: fc.constantFrom('a', 'b'),
    level: fc.constantFrom('info', 'error'),
    number: fc.oneof(fc.integer(), fc.double({ noNaN: true, noDefaultInfinity: true })),
    word: fc.string({ maxLength: 6 }),
    mixed: fc.oneof(fc.integer(), fc.string(), fc.boolean()),
  },
  { requiredKeys: [] },
);

function plain(record: EventRecord): string {
  return JSON.stringify({ ...record, attributes: Object.fromEntries(Object.entries(record.attributes).sort()) });
}

test.each(['whole', 'columns'] as const)('what is written as %s is read again', (layout) => {
  fc.assert(
    fc.property(fc.array(event, { minLength: 1, maxLength: 60 }), (events) => {
      const batch = batchOf(events);
      const { facts, parts } = encodeSegment(batch, layout);
      const read = decodeSegment(
        batch.source,
        facts.events,
        parts.map((part) => part.data),
      );
      expect(facts.events).toBe(events.length);
      expect(events.map((_, row) => plain(eventAt(read, row)))).toEqual(
        events.map((_, row) => plain(eventAt(batch, row))),
      );
    }),
    { numRuns: 150 },
  );
});

test('rows are sorted by time, and only the wanted columns are opened', () => {
  const batch = batchOf([
    { time: '2026-11-24T08:00:02Z', a: 1 },
    { time: '2026-11-24T08:00:01Z', b: 'x' },
  ]);
  const { facts, parts } = encodeSegment(batch, 'columns');
  expect(facts.to - facts.from).toBe(1000);
  const wanted = {
    attributes: new Set(['b']),
    body: false,
    emitter: false,
    received: false,
    shape: false,
    size: false,
    time: true,
    severity: true,
  };
  const read = decodeSegment(
    's',
    2,
    parts.filter((part) => isWanted(part.name, wanted)).map((part) => part.data),
  );
  expect([...read.attributes.keys()]).toEqual(['b']);
  expect([...read.time]).toEqual([facts.from, facts.to]);
});

test('when events arrived and how long their records were is kept, however far apart', () => {
  const lines = Array.from({ length: 5 }, (_, i) => ({
    time: new Date(Date.UTC(2026, 10, 24, 8, 0, i)).toISOString(),
  }));
  const batch = batchOf(lines);
  const day = 86_400_000;
  const read = (received: readonly number[], size: readonly number[]) => {
    const given = { ...batch, received: Float64Array.from(received), size: Uint32Array.from(size) };
    const { facts, parts } = encodeSegment(given, 'columns');
    const opened = decodeSegment(
      's',
      facts.events,
      parts.map(({ data }) => data),
    );
    return { parts: parts.map(({ name }) => name), received: [...opened.received], size: [...opened.size] };
  };
  const start = batch.time[0] as number;
  const near = [0, 5, 3, 1, 0].map((after, i) => start + i * 1_000 + after);
  expect(read(near, [1, 0, 70_000, 0, 5])).toMatchObject({ received: near, size: [1, 0, 70_000, 0, 5] });
  const far = [0, 300 * day, 2 * day, 301 * day, 0].map((after) => start + 4_000 + after);
  expect(read(far, [0, 0, 0, 0, 0])).toMatchObject({ received: far, size: [0, 0, 0, 0, 0] });
  const alike = read([...batch.time], [0, 0, 0, 0, 0]);
  expect(alike.parts).not.toContain('received');
  expect(alike.parts).not.toContain('size');
});

test('segments of earlier versions tell how much later their events arrived', () => {
  const columns = new Map<string, PartColumn>([
    ['time', { kind: 'time', values: Float64Array.of(1_000, 2_000) }],
    ['delay', { kind: 'number', values: Float64Array.of(5, 0), unit: 'none' }],
  ]);
  const read = decodeSegment('s', 2, [encodePart(columns, 2)]);
  expect([...read.received]).toEqual([1_005, 2_000]);
  expect([...read.size]).toEqual([0, 0]);
});

test('columns of many different texts survive merging', () => {
  const many = (from: number) =>
    batchOf(Array.from({ length: 3_000 }, (_, i) => ({ id: `id-${from + i}`, few: `f${i % 3}` })));
  const parts = [many(0), many(3_000)].map((batch) => ({ batch, rows: allRows(batch) }));
  const merged = gather('test', parts);
  expect(merged.rows).toBe(6_000);
  const { facts, parts: written } = encodeSegment(merged, 'columns');
  const read = decodeSegment(
    'test',
    facts.events,
    written.map((part) => part.data),
  );
  for (const row of [0, 2_999, 3_000, 5_999])
    expect(eventAt(read, row).attributes).toEqual({ id: `id-${row}`, few: `f${(row % 3_000) % 3}` });
  expect(read.attributes.get('few')?.text?.unique).toBe(true);
});
