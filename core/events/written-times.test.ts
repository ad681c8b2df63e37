import fc from 'fast-check';
import { expect, test } from 'vitest';
import { encode } from './text-table.ts';
import { readWrittenTime, writtenTimeExtent } from './written-times.ts';

const reference = Date.UTC(2026, 10, 24, 12);
const read = (text: string): number => readWrittenTime(encode(text), 0, encode(text).length, reference);
const at = (text: string): number => Date.parse(text);

test.each([
  ['2026-11-24T08:15:02Z', '2026-11-24T08:15:02Z'],
  ['2026-11-24 08:15:02,250', '2026-11-24T08:15:02.250Z'],
  ['2026-11-24  8:15:02', '2026-11-24T08:15:02Z'],
  ['2026-11-24 08:15:02.250 UTC', '2026-11-24T08:15:02.250Z'],
  ['2026/11/24 08:15:02', '2026-11-24T08:15:02Z'],
  ['2026/11/24 08:15:02.123456', '2026-11-24T08:15:02.123Z'],
  ['24.11.2026 08:15:02', '2026-11-24T08:15:02Z'],
  ['24/Nov/2026:08:15:02 +0100', '2026-11-24T07:15:02Z'],
  ['Tue Nov 24 08:15:02 2026', '2026-11-24T08:15:02Z'],
  ['Tue Nov  3 08:15:02.123456 2026', '2026-11-03T08:15:02.123Z'],
  ['Tue, 24 Nov 2026 08:15:02 GMT', '2026-11-24T08:15:02Z'],
  ['24 Nov 2026 08:15:02.007', '2026-11-24T08:15:02.007Z'],
  ['Nov 24, 2026 8:15:02 AM', '2026-11-24T08:15:02Z'],
  ['Nov 24, 2026 12:15:02 PM', '2026-11-24T12:15:02Z'],
  ['Nov 24, 2026 12:15:02 AM', '2026-11-24T00:15:02Z'],
  ['Nov 24 08:15:02', '2026-11-24T08:15:02Z'],
  ['Dec 30 08:15:02', '2025-12-30T08:15:02Z'],
  ['1124/081502.123456', '2026-11-24T08:15:02.123Z'],
  ['20261124T081502Z', '2026-11-24T08:15:02Z'],
])('%s is a time', (text, expected) => {
  expect(new Date(read(text)).toISOString()).toBe(new Date(at(expected)).toISOString());
});

test.each([
  '',
  '24',
  '2026-13-01 08:15:02',
  '2026/11/24',
  'Nov 24',
  'Tue',
  '192.0.2.1 08:15:02',
  '08:15:02',
  '2026-11-24 25:15:02',
])('“%s” is none', (text) => expect(read(text)).toBeNaN());

test('the extent excludes what follows the time', () => {
  const extent = (text: string): string => text.slice(0, Math.max(0, writtenTimeExtent(encode(text), 0, text.length)));
  expect(extent('2026/11/24 08:15:02 [error]')).toBe('2026/11/24 08:15:02');
  expect(extent('2026-11-24 08:15:02,12,gate')).toBe('2026-11-24 08:15:02');
  expect(extent('2026-11-24 08:15:02,123,gate')).toBe('2026-11-24 08:15:02');
  expect(extent('2026-11-24 08:15:02 -5 degrees')).toBe('2026-11-24 08:15:02');
  expect(extent('Nov 24 08:15:02 quay')).toBe('Nov 24 08:15:02');
});

test('random bytes never give an extent beyond their end', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 40 }), (bytes) => {
      const end = writtenTimeExtent(bytes, 0, bytes.length);
      expect(end).toBeLessThanOrEqual(bytes.length);
      expect(end === -1 || end > 0).toBe(true);
    }),
  );
});
