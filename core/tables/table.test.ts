import { expect, test } from 'vitest';
import { maxTableBytes, maxTableRows, parseTable, tableName } from './table.ts';

test('rows are found by the first column, in any case; the first of two counts', () => {
  const parsed = parseTable('code,port,note\r\nSKV,Skerryvoe,"north, outer"\r\nLNG,Langwick,\r\nskv,Elsewhere,x\r\n');
  if (!parsed.ok) throw new Error(parsed.message);
  expect(parsed.table.columns).toEqual(['code', 'port', 'note']);
  expect(parsed.table.rows).toBe(3);
  expect(parsed.table.find('skv')).toEqual(['SKV', 'Skerryvoe', 'north, outer']);
  expect(parsed.table.find('lng')).toEqual(['LNG', 'Langwick', '']);
  expect(parsed.table.find('nowhere')).toBeUndefined();
});

test.each([
  ['', 'a table needs a first line with at least two column names'],
  ['code\nSKV', 'a table needs a first line with at least two column names'],
  ['code, \nSKV,x', 'a column has no name'],
  ['code,port\nSKV,Skerryvoe\nLNG', 'line 3 has 1 values instead of 2'],
])('%j: %s', (csv, message) => {
  expect(parseTable(csv)).toEqual({ ok: false, message });
});

test('a table that is too large is refused with its limit', () => {
  expect(parseTable('x'.repeat(maxTableBytes + 1))).toMatchObject({ ok: false });
  expect(parseTable(`a,b\n${'1,2\n'.repeat(maxTableRows + 1)}`)).toEqual({
    ok: false,
    message: 'the table has more than 100,000 rows',
  });
});

test.each([
  ['ports.csv', 'ports'],
  ['Pier codes (2026).CSV', 'pier-codes-2026'],
  ['ports', 'ports'],
])('the file %s gives the table %s', (file, name) => {
  expect(tableName(file)).toBe(name);
});
