import fc from 'fast-check';
import { parquetMetadata, parquetReadObjects } from 'hyparquet';
import { expect, test } from 'vitest';
import { type EventRecord, eventAt } from '../events/batch.ts';
import { countUp } from '../events/select.ts';
import { parseTable } from '../tables/table.ts';
import { batchOfEvents } from '../testing/batch-of-events.ts';
import type { ExportRows } from './cells.ts';
import { otherFields } from './columns.ts';
import type { ExportField } from './export-format.ts';
import { exportFormats } from './index.ts';

const event: EventRecord = {
  time: Date.UTC(2026, 10, 24, 8, 15, 0, 250),
  received: Date.UTC(2026, 10, 24, 8, 15, 1),
  severity: 17,
  weight: 1,
  size: 210,
  source: 'gates',
  emitter: 'gate-p1-01',
  body: 'lane "north", shut\nafter a storm',
  attributes: { lane: 'north', wait: -5, open: false, note: '=cmd()' },
};
const bare: EventRecord = { ...event, size: 0, emitter: '', body: '', weight: 10, attributes: { wait: 0.5 } };
const fields: readonly ExportField[] = [
  { name: 'lane', kind: 'text' },
  { name: 'wait', kind: 'number' },
  { name: 'open', kind: 'flag' },
  { name: 'note', kind: 'text' },
];

/** All of some events. */
function rowsOfEvents(events: readonly EventRecord[]): ExportRows {
  return { batch: batchOfEvents(events), rows: countUp(events.length), tier: 'incidents' };
}

/** An export of some pieces, as bytes; fields that are not given go into the last column. */
async function written(
  name: string,
  pieces: readonly (readonly EventRecord[])[],
  shown: readonly ExportField[] = fields,
  others: readonly string[] = [],
): Promise<Buffer> {
  const format = exportFormats.get(name);
  const given = { shown, others };
  const joiner = await format?.joiner(given);
  if (!format || !joiner) throw new Error(`there is no form ${name}`);
  const parts = [joiner.head()];
  for (const events of pieces) parts.push(joiner.add(await format.piece(rowsOfEvents(events), given)));
  return Buffer.concat([...parts, joiner.tail()].map((part) => Buffer.from(part)));
}

test('NDJSON: each line is the event', async () => {
  const lines = (await written('ndjson', [[event], [bare]])).toString().trimEnd().split('\n');
  expect(lines.map((line) => JSON.parse(line))).toEqual([
    {
      time: '2026-11-24T08:15:00.250Z',
      received: '2026-11-24T08:15:01.000Z',
      source: 'gates',
      emitter: 'gate-p1-01',
      tier: 'incidents',
      severity: 17,
      raw_bytes: 210,
      body: event.body,
      attributes: event.attributes,
    },
    expect.objectContaining({ weight: 10, attributes: { wait: 0.5 } }),
  ]);
});

test('NDJSON: whatever the events, each line is what JSON makes of its event', async () => {
  const value = fc.oneof(
    fc.string({ unit: 'binary' }),
    fc.integer(),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.boolean(),
  );
  const name = fc.string({ minLength: 1 }).filter((text) => text !== '__proto__');
  const some = fc.record({
    attributes: fc.dictionary(name, value, { maxKeys: 4 }),
    body: fc.string({ maxLength: 200 }),
    weight: fc.constantFrom(1, 10),
    size: fc.nat(),
  });
  const common = {
    time: '2026-11-24T08:15:00.250Z',
    received: '2026-11-24T08:15:01.000Z',
    source: 'gates',
    emitter: 'gate-p1-01',
    tier: 'incidents',
    severity: 17,
  };
  await fc.assert(
    fc.asyncProperty(fc.array(some, { maxLength: 8 }), async (given) => {
      const events = given.map((one) => ({ ...event, ...one }));
      const lines = (await written('ndjson', [events])).toString().split('\n').slice(0, -1);
      const { batch } = rowsOfEvents(events);
      // The batch has the texts as UTF-8 keeps them.
      const wanted = events.map((_, row) => {
        const { weight, size, body, attributes } = eventAt(batch, row);
        const more = { ...(weight !== 1 && { weight }), ...(size > 0 && { raw_bytes: size }), ...(body && { body }) };
        return JSON.parse(JSON.stringify({ ...common, ...more, attributes }));
      });
      expect(lines.map((line) => JSON.parse(line))).toEqual(wanted);
    }),
    { numRuns: 60 },
  );
});

test('CSV: a column for each field, texts in quotes, no formulas', async () => {
  const text = (await written('csv', [[event], [bare]])).toString();
  expect(text.split('\r\n').at(0)).toBe(
    'time,received,source,emitter,tier,severity,weight,raw_bytes,body,lane,wait,open,note',
  );
  expect(text).toContain('"lane ""north"", shut\nafter a storm",north,-5,false,\'=cmd()');
  const table = parseTable(text);
  expect(table.ok).toBe(true);
  expect(text.split('\r\n').at(2)).toBe(
    '2026-11-24T08:15:00.250Z,2026-11-24T08:15:01.000Z,gates,,incidents,error,10,,,,0.5,,',
  );
});

test('a field that is called as what every event has is beside it', async () => {
  const named: readonly ExportField[] = ['source', 'Body', 'field.source'].map((name) => ({ name, kind: 'text' }));
  const attributes = { source: 'a', Body: 'b', 'field.source': 'c' };
  const text = (await written('csv', [[{ ...event, attributes }]], named)).toString();
  expect(text.split('\r\n').at(0)).toContain('body,field.source,field.Body,field.field.source');
  expect(text).toMatch(/,a,b,c\r\n$/);
});

test('some rows of a batch are written as they stand in it, whether their texts are shared, ASCII, or all different', async () => {
  const events = Array.from({ length: 3_000 }, (_, n) => ({
    ...event,
    time: event.time + n,
    body: `line ${n}${n % 500 === 0 ? ' – ünïcödé' : ''}`,
    attributes: { number: n, id: `id-${n}`, lane: n % 3 === 0 ? 'north' : 'süd', ...(n % 7 === 0 && { open: true }) },
  }));
  const all = rowsOfEvents(events);
  const rows = all.rows.filter((row) => row % 2 === 1).subarray(300, 900);
  const piece = await exportFormats.get('ndjson')?.piece({ ...all, rows }, { shown: [], others: [] });
  const lines = new TextDecoder().decode(piece?.data).trimEnd().split('\n');
  expect(lines.map((line) => JSON.parse(line))).toEqual(
    Array.from(rows, (row) =>
      expect.objectContaining({ body: events[row]?.body, attributes: events[row]?.attributes }),
    ),
  );
});

test.each(['csv', 'parquet'])('%s: fields beyond the most that have columns stand together as JSON', async (name) => {
  const [lane] = fields;
  const bytes = await written(name, [[event], [{ ...bare, attributes: { lane: 'south' } }]], lane && [lane], [
    'wait',
    'open',
    'note',
  ]);
  const others = JSON.stringify({ wait: -5, open: false, note: '=cmd()' });
  if (name === 'parquet') {
    const [first, second] = await rowsOf(bytes);
    expect([first?.lane, JSON.parse(String(first?.[otherFields]))]).toEqual(['north', JSON.parse(others)]);
    expect([second?.lane, second?.[otherFields]]).toEqual(['south', null]);
  } else {
    const lines = bytes.toString().trimEnd().split('\r\n');
    expect(lines[0]).toMatch(/,body,lane,other_fields$/);
    expect(lines.at(-1)).toMatch(/,south,$/);
    expect(bytes.toString()).toContain(`north,"${others.replaceAll('"', '""')}"`);
  }
});

/** What a Parquet file holds, read again. */
async function rowsOf(bytes: Buffer): Promise<Record<string, unknown>[]> {
  return await parquetReadObjects({ file: Uint8Array.from(bytes).buffer });
}

test('Parquet: a column of its kind for each field, whatever pieces it was written in', async () => {
  const rows = await rowsOf(await written('parquet', [[event, bare], [], [bare], [event]]));
  expect(rows).toHaveLength(4);
  expect(rows[0]).toEqual({
    time: new Date(event.time),
    received: new Date(event.received),
    source: 'gates',
    emitter: 'gate-p1-01',
    tier: 'incidents',
    severity: 'error',
    weight: 1,
    raw_bytes: 210,
    body: event.body,
    ...event.attributes,
  });
  expect(rows[1]).toMatchObject({ wait: 0.5, lane: null, open: null, body: null, raw_bytes: null });
  expect(rows[3]).toEqual(rows[0]);
});

test('Parquet: integer columns are INT32 or INT64, by their range', async () => {
  const given: readonly ExportField[] = [
    { name: 'berth', kind: 'number', whole: { low: -3, high: 2 ** 31 - 1 } },
    { name: 'booking', kind: 'number', whole: { low: 1, high: Number.MAX_SAFE_INTEGER } },
    { name: 'depth', kind: 'number' },
  ];
  const low = { ...event, attributes: { berth: -3, booking: 1, depth: 4 } };
  const high = { ...event, attributes: { berth: 2 ** 31 - 1, booking: Number.MAX_SAFE_INTEGER, depth: 4.5 } };
  const bytes = await written('parquet', [[low], [], [bare, high]], given);
  const { schema } = parquetMetadata(Uint8Array.from(bytes).buffer);
  const types = new Map(schema.map(({ name, type }) => [name, type]));
  expect(['berth', 'booking', 'depth', 'raw_bytes'].map((name) => types.get(name))).toEqual([
    'INT32',
    'INT64',
    'DOUBLE',
    'INT32',
  ]);
  const rows = await rowsOf(bytes);
  expect(rows.map(({ berth, booking, depth }) => [berth, booking, depth])).toEqual([
    [-3, 1n, 4],
    [null, null, null],
    [2 ** 31 - 1, BigInt(Number.MAX_SAFE_INTEGER), 4.5],
  ]);
});

test('Parquet: no events are a file without rows', async () => {
  expect(await rowsOf(await written('parquet', [[], []]))).toEqual([]);
});

test('Parquet: values of a mixed field are texts, and every value comes back', async () => {
  const value = fc.oneof(fc.string(), fc.double({ noNaN: true }), fc.boolean());
  const given: readonly ExportField[] = [
    { name: 'any', kind: 'mixed' },
    { name: 'number', kind: 'number' },
  ];
  const some = fc.array(
    fc.record({ any: value, number: fc.double({ noNaN: true, noDefaultInfinity: true }) }, { requiredKeys: [] }),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(some, { maxLength: 4 }), async (pieces) => {
      const made = pieces.map((piece) =>
        piece.map((attributes) => ({
          ...event,
          attributes: Object.fromEntries(Object.entries(attributes).filter(([, one]) => one !== undefined)),
        })),
      );
      const rows = await rowsOf(await written('parquet', made, given));
      const wanted = pieces.flat().map(({ any, number }) => [any === undefined ? null : String(any), number ?? null]);
      expect(rows.map((row) => [row.any, row.number])).toEqual(wanted);
    }),
    { numRuns: 40 },
  );
});

test.each([...exportFormats.keys()])('%s: nothing is written for no events', async (name) => {
  expect((await exportFormats.get(name)?.piece(rowsOfEvents([]), { shown: fields, others: [] }))?.data).toHaveLength(0);
});
