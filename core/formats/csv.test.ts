import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decode, encode } from '../events/text-table.ts';
import { csvColumns } from '../templates/csv-columns.ts';
import { parseCsv, readCsvLine } from './csv.ts';

describe('the rules of RFC 4180, section 2, with its own examples', () => {
  test.each([
    [
      '1: records on lines of their own',
      'aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n',
      [
        ['aaa', 'bbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    [
      '2: the last record may have no line break',
      'aaa,bbb,ccc\r\nzzz,yyy,xxx',
      [
        ['aaa', 'bbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    ['4: spaces are part of a field', 'aaa, bbb ,ccc', [['aaa', ' bbb ', 'ccc']]],
    [
      '5: fields may be in double quotes',
      '"aaa","bbb","ccc"\r\nzzz,yyy,xxx',
      [
        ['aaa', 'bbb', 'ccc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    [
      '6: line breaks and commas inside quotes',
      '"aaa","b\r\nbb","c,cc"\r\nzzz,yyy,xxx',
      [
        ['aaa', 'b\r\nbb', 'c,cc'],
        ['zzz', 'yyy', 'xxx'],
      ],
    ],
    ['7: a double quote is doubled', '"aaa","b""bb","ccc"', [['aaa', 'b"bb', 'ccc']]],
  ])('%s', (_, text, records) => {
    expect(parseCsv(text)).toEqual(records);
  });

  test('one line is cut into the values that were written', () => {
    const value = fc.string({ maxLength: 12 }).map((text) => text.replace(/[\r\n]/g, ' '));
    fc.assert(
      fc.property(fc.array(value, { minLength: 1, maxLength: 8 }), (values) => {
        const line = encode(values.map((text) => `"${text.replaceAll('"', '""')}"`).join(','));
        const read: string[] = [];
        const problem = readCsvLine(line, 0, line.length, 44, (_, bytes, start, end) =>
          read.push(decode(bytes, start, end)),
        );
        expect([problem, read]).toEqual([undefined, values]);
      }),
    );
  });
});

test('columns get their types from their values, and names that nothing else has', () => {
  const lines = [
    'time,height,station name,severity,note,code',
    '2026-11-24T08:00:00Z,1.5,Pier 4,3,"a, b",007',
    '2026-11-24T09:00:00Z,2,Pier 5,4,,008',
  ];
  expect(csvColumns(lines)).toEqual(['at:iso', 'height:number', 'station_name', 'severity_4:int', 'note', 'code']);
});
