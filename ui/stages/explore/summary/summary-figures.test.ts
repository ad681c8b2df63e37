import { expect, test } from 'vitest';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { figuresOf } from './summary-figures.tsx';

const table: SummaryTable = {
  columns: [
    { name: 'port', unit: 'text', key: true },
    { name: 'count()', unit: 'count', key: false, additive: true },
    { name: 'p95(took)', unit: 'duration', key: false },
  ],
  rows: [
    ['Tarnholm', 1_200, 0.25],
    ['Skerryvoe', 34, 2],
    ['Holm', 0, null],
  ],
  groups: 3,
  leftOut: 0,
};

test('what adds up is one figure, what does not is its least and most', () => {
  expect(figuresOf(table)).toEqual([
    { name: 'count()', text: '1,234', isCount: true, note: 'all 3 values together' },
    { name: 'p95(took)', text: '250 ms – 2 s', isCount: false, note: 'least and most of 2 values' },
  ]);
});

test('one row stands for itself, and nothing is a dash', () => {
  const [count, p95] = figuresOf({ ...table, rows: [['Holm', 7, null]] });
  expect(count).toEqual({ name: 'count()', text: '7', isCount: true, note: '' });
  expect(p95?.text).toBe('–');
  expect(figuresOf({ ...table, rows: [] }).map(({ text }) => text)).toEqual(['–', '–']);
});
