import { expect, test } from 'vitest';
import { encode } from '../events/text-table.ts';
import { batchOf } from '../testing/batch-of.ts';
import { decodeHeader, encodeHeader } from './header.ts';
import { numberParts } from './part-numbers.ts';
import { encodeSegment } from './segment.ts';

test('a header holds any name', () => {
  const parts = numberParts([
    'time',
    'number:a',
    'number:a ',
    'text:__proto__',
    'flag:7',
    `text:${'x'.repeat(10_000)}`,
    'text:"\\\u0000',
  ]);
  const read = decodeHeader(encodeHeader({ parts }));
  expect(new Map([...read.parts].sort())).toEqual(new Map([...parts].sort()));
  expect(read.statistics).toBeUndefined();
});

test('a header of old, a plain map of numbers, is read', () => {
  const read = decodeHeader(encode('{"time":7,"number:parts":9}'));
  expect([...read.parts]).toEqual([
    ['time', 7],
    ['number:parts', 9],
  ]);
  expect(read.statistics).toBeUndefined();
});

test('statistics are read as they were written', () => {
  const events = Array.from({ length: 200 }, (_, i) => ({
    time: new Date(Date.UTC(2026, 10, 24, 8) + i * 1_700).toISOString(),
    level: i % 3 === 0 ? 'error' : 'info',
    pier: i % 5,
    boat: `b${i % 4}`,
    ...(i % 2 === 0 && { full: true }),
  }));
  const { header } = encodeSegment(batchOf(events), 'columns');
  const { statistics } = decodeHeader(header);
  if (!statistics) throw new Error('no statistics');
  expect([...statistics.minutes.events].reduce((sum, count) => sum + count, 0)).toBe(200);
  expect(new Set(statistics.minutes.severity)).toEqual(new Set([3, 5]));
  expect(statistics.minutes.minute[0]).toBe(Date.UTC(2026, 10, 24, 8) / 60_000);
  expect(statistics.columns.get('number:pier')).toEqual({ rows: 200, range: { low: 0, high: 4, whole: true } });
  expect(statistics.columns.get('text:boat')).toEqual({ rows: 200, texts: ['b0', 'b1', 'b2', 'b3'] });
  expect(statistics.columns.get('flag:full')).toEqual({ rows: 100 });
});
