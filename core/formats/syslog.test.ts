import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type EventRecord, eventAt } from '../events/batch.ts';
import { encode } from '../events/text-table.ts';
import { arrival } from '../testing/batch-of.ts';
import type { FormatChoice } from './index.ts';
import { readRecords } from './read.ts';
import { joinMessages } from './records.ts';

function read(message: string, format: FormatChoice = 'auto', backfill = false): EventRecord {
  const context = { received: arrival, backfill };
  const { batch, problems } = readRecords('net', joinMessages([encode(message)]), format, context);
  if (problems[0]) throw new Error(problems[0].message);
  return eventAt(batch, 0);
}

const printable = (maxLength: number) =>
  fc
    .array(fc.integer({ min: 33, max: 126 }), { minLength: 1, maxLength })
    .map((codes) => String.fromCharCode(...codes))
    .filter((text) => text !== '-');
const name = printable(12).filter((text) => !/[="\]\s@]/.test(text));

describe('RFC 5424', () => {
  test('what its grammar writes is read again', () => {
    const message = fc.record({
      facility: fc.integer({ min: 0, max: 23 }),
      level: fc.integer({ min: 0, max: 7 }),
      host: printable(20),
      app: printable(20),
      process: fc.option(printable(12)),
      id: fc.option(printable(12)),
      data: fc.option(
        fc.tuple(
          name,
          name,
          fc.string({ maxLength: 15 }).filter((text) => !/[\n\r\0]/.test(text)),
        ),
      ),
      body: fc.string({ maxLength: 30 }).filter((text) => text === text.trim() && !/[\n\r\0]/.test(text)),
    });
    fc.assert(
      fc.property(message, ({ facility, level, host, app, process, id, data, body }) => {
        const escaped = data?.[2].replace(/["\\\]]/g, '\\$&');
        const structured = data ? `[${data[0]} ${data[1]}="${escaped}"]` : '-';
        const header = `<${facility * 8 + level}>1 2026-11-24T08:59:58.250Z ${host} ${app} ${process ?? '-'} ${id ?? '-'}`;
        const event = read(`${header} ${structured}${body === '' ? '' : ` ${body}`}`, 'rfc5424');
        expect(event.time).toBe(Date.UTC(2026, 10, 24, 8, 59, 58, 250));
        expect(event).toMatchObject({ emitter: host, body });
        expect(event.severity).toBe([21, 19, 18, 17, 13, 10, 9, 5][level]);
        expect(event.attributes.app).toBe(app);
        expect(event.attributes.process ?? null).toBe(process);
        expect(event.attributes['message.id'] ?? null).toBe(id);
        if (data) expect(event.attributes[`${data[0]}.${data[1]}`]).toBe(data[2]);
      }),
      { numRuns: 300 },
    );
  });

  test.each([
    ['<34>2 2026-11-24T08:00:00Z h a - - - x', 'the version is not 1'],
    ['<34>1 2026-11-24T08:00:00Z h', 'the header ends too early'],
    ['<34>1 2026-11-24T08:00:00Z h a - - [id x="1" body', 'not closed'],
    ['34 1', 'does not begin with <priority>'],
    ['<192>1 2026-11-24T08:00:00Z h a - - -', 'does not begin with <priority>'],
  ])('%s is reported as wrong', (message, reason) => {
    expect(() => read(message, 'rfc5424')).toThrow(reason);
  });

  test('a byte order mark before the message is not part of it', () => {
    expect(read('<34>1 2026-11-24T08:00:00Z h a - - - \ufeffgate open', 'rfc5424').body).toBe('gate open');
  });

  test('without a time it is that of arrival', () => {
    expect(read('<34>1 - h a - - - x', 'rfc5424').time).toBe(arrival);
  });
});

describe('RFC 3164', () => {
  test.each([
    ['<13>Nov 24 08:59:58 pier-4 link: port 3 down', { emitter: 'pier-4', body: 'port 3 down', app: 'link' }],
    ['<13>Nov  4 08:59:58 pier-4 link[77]: up', { emitter: 'pier-4', body: 'up', app: 'link', process: '77' }],
  ])('%s', (message, { emitter, body, ...attributes }) => {
    const event = read(message, 'rfc3164');
    expect(event).toMatchObject({ emitter, body, severity: 10 });
    expect(event.attributes).toMatchObject(attributes);
  });

  test('the year that is not written is the last that fits, with some patience for a clock that is ahead', () => {
    expect(read('<13>Nov 24 08:59:58 h a: x', 'rfc3164').time).toBe(Date.UTC(2026, 10, 24, 8, 59, 58));
    expect(read('<13>Nov 25 20:00:00 h a: x', 'rfc3164', true).time).toBe(Date.UTC(2026, 10, 25, 20));
    expect(read('<13>Dec 31 23:00:00 h a: x', 'rfc3164', true).time).toBe(Date.UTC(2025, 11, 31, 23));
  });
});

test('the two are told apart by themselves', () => {
  expect(read('<34>1 2026-11-24T08:00:00Z h app - - - x').attributes.app).toBe('app');
  expect(read('<34>Nov 24 08:00:00 h app: x').attributes.app).toBe('app');
  expect(read('no syslog at all')).toMatchObject({ body: 'no syslog at all', severity: 0 });
});
