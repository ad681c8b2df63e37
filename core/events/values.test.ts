import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readNumber } from './numbers.ts';
import { severityFromNumber, severityFromText, severityRange, severityWord } from './severity.ts';
import { encode, TextTableBuilder, textAt } from './text-table.ts';
import { readClf, readIso, readSyslogTime, timeFromEpoch } from './times.ts';
import { formatBytes, formatCount, formatDuration, parseDuration, parseQuantity } from './units.ts';

test('numbers are read as the language reads them', () => {
  const number = fc.oneof(
    fc.integer(),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.float({ noNaN: true, noDefaultInfinity: true }),
  );
  fc.assert(
    fc.property(number, (value) => {
      const text = String(value);
      const bytes = encode(text);
      expect(readNumber(bytes, 0, bytes.length)).toBe(Number(text));
    }),
    { numRuns: 5_000 },
  );
  for (const text of ['', '-', '.', '1.', 'x', '1x', '--1', '1e']) {
    expect(readNumber(encode(text), 0, text.length)).toBeNaN();
  }
});

test('ISO times are read as the language reads them', () => {
  const min = new Date('2001-01-01');
  fc.assert(
    fc.property(fc.date({ min, max: new Date('2099-12-31'), noInvalidDate: true }), (date) => {
      const bytes = encode(date.toISOString());
      expect(readIso(bytes, 0, bytes.length)).toBe(date.getTime());
    }),
  );
});

describe('times', () => {
  test.each([
    ['2026-02-30', Number.NaN],
    ['2024-02-29', Date.UTC(2024, 1, 29)],
    ['2026-11-24T09:00:00,5+0130', Date.UTC(2026, 10, 24, 7, 30, 0, 500)],
    ['2026-11-24T25:00', Number.NaN],
  ])('%s', (text, time) => {
    expect(readIso(encode(text), 0, text.length)).toBe(time);
  });

  test('access lines, syslog and counts since 1970', () => {
    const clf = encode('24/Nov/2026:09:41:12 +0100');
    expect(readClf(clf, 0, clf.length)).toBe(Date.UTC(2026, 10, 24, 8, 41, 12));
    const old = encode('Dec 31 23:59:59');
    expect(readSyslogTime(old, 0, old.length, Date.UTC(2027, 0, 1))).toBe(Date.UTC(2026, 11, 31, 23, 59, 59));
    expect([1.7e9, 1.7e12, 1.7e15, 1.7e18].map(timeFromEpoch)).toEqual([1.7e12, 1.7e12, 1.7e12, 1.7e12]);
  });
});

describe('units', () => {
  test.each([
    ['250ms', 0.25, 'duration'],
    ['1.5h', 5400, 'duration'],
    ['3MB', 3e6, 'size'],
    ['4KiB', 4096, 'size'],
    ['17', 17, 'none'],
  ])('%s', (text, value, unit) => {
    expect(parseQuantity(text)).toEqual({ value, unit });
  });

  test('durations, and how they are written', () => {
    expect(parseDuration('1h 30m')).toBe(5_400_000);
    expect(parseDuration('30')).toBeUndefined();
    expect([0.212, 8.02, 250, 15_000, 1_296_000].map(formatDuration)).toEqual([
      '212 ms',
      '8.02 s',
      '4 min 10 s',
      '4 h 10 min',
      '15 d',
    ]);
    expect([640, 41_800_000_000, 999_990].map(formatBytes)).toEqual(['640 B', '41.8 GB', '1 MB']);
    expect(formatCount(1_234_567)).toBe('1,234,567');
  });
});

test('severities from words, numbers and ranges', () => {
  expect(['WARN', 'err', 'I', 'nonsense'].map(severityFromText)).toEqual([13, 17, 9, 0]);
  expect([10, 20, 50, 9, 3.5].map(severityFromNumber)).toEqual([1, 5, 17, 9, 0]);
  expect([0, 4, 5, 24].map(severityWord)).toEqual(['unset', 'trace', 'debug', 'fatal']);
  expect(severityRange('warning')).toEqual([13, 16]);
});

test('a text table gives every text back, and equal texts the same place', () => {
  fc.assert(
    fc.property(fc.array(fc.string(), { maxLength: 300 }), (texts) => {
      const builder = new TextTableBuilder();
      const places = texts.map((text) => builder.internText(text));
      const table = builder.table();
      expect(table.count).toBe(new Set(texts.map((text) => new TextDecoder().decode(encode(text)))).size);
      texts.forEach((text, i) => {
        expect(textAt(table, places[i] as number)).toBe(new TextDecoder().decode(encode(text)));
      });
    }),
  );
});
