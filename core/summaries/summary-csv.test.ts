import fc from 'fast-check';
import { expect, test } from 'vitest';
import { parseTable } from '../tables/table.ts';
import { summaryCsv } from './summary-csv.ts';

const columns = ['port', 'count()'].map((name) => ({ name, unit: 'text' as const, key: true }));

test('names come first; what holds a comma, a quote or a line end is quoted', () => {
  const rows = [
    ['Skerryvoe, north', 12],
    ['the "Bay"', null],
    ['two\nlines', 0.5],
  ];
  expect(summaryCsv({ columns, rows, groups: 3, leftOut: 0 })).toBe(
    'port,count()\r\n"Skerryvoe, north",12\r\n"the ""Bay""",\r\n"two\nlines",0.5',
  );
});

test('texts that a spreadsheet would compute are guarded, numbers are not', () => {
  const rows = [
    ['=1+1', -5],
    ['@SUM(A1)', 2],
    ['+44', -0.5],
    ['-', null],
  ];
  expect(summaryCsv({ columns, rows, groups: 4, leftOut: 0 })).toBe(
    "port,count()\r\n'=1+1,-5\r\n'@SUM(A1),2\r\n'+44,-0.5\r\n'-,",
  );
});

test('what is written can be read as a table again', () => {
  const key = fc
    .string({ minLength: 1, maxLength: 12 })
    .filter((text) => text.trim() === text && !/[\r\n]/.test(text) && !/^[=+\-@]/.test(text));
  fc.assert(
    fc.property(fc.uniqueArray(key, { minLength: 1, maxLength: 8, selector: (text) => text.toLowerCase() }), (keys) => {
      const rows = keys.map((text, i) => [text, i]);
      const read = parseTable(`${summaryCsv({ columns, rows, groups: rows.length, leftOut: 0 })}\r\n`);
      if (!read.ok) throw new Error(read.message);
      keys.forEach((text, i) => {
        expect(read.table.find(text)).toEqual([text, String(i)]);
      });
    }),
  );
});
