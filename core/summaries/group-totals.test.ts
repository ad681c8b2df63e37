import { expect, test } from 'vitest';
import { groupTotals } from './group-totals.ts';
import type { SummaryTable } from './summary-table.ts';

const table: SummaryTable = {
  columns: [
    { name: 'port', unit: 'text', key: true },
    { name: 'count()', unit: 'count', key: false, additive: true },
    { name: 'min(height)', unit: 'none', key: false },
  ],
  rows: [
    ['Tarnholm', 2, -5],
    ['Tarnholm', 3, -2],
    ['Holm', 1, null],
    [null, 9, 9],
  ],
  groups: 3,
  leftOut: 0,
};
const port = (row: SummaryTable['rows'][number]) => (row[0] === null ? undefined : String(row[0]));

test('what adds up is added up, of the rest it is the most, below zero too', () => {
  expect([...groupTotals(table, 1, port)]).toEqual([
    ['Tarnholm', 5],
    ['Holm', 1],
  ]);
  expect([...groupTotals(table, 2, port)]).toEqual([['Tarnholm', -2]]);
});
