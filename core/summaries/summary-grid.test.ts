import fc from 'fast-check';
import { expect, test } from 'vitest';
import { summaryGrid } from './summary-grid.ts';
import type { SummaryTable } from './summary-table.ts';

type Row = readonly [number, string, number, number | null];

function table(rows: readonly Row[]): SummaryTable {
  return {
    columns: [
      { name: 'time', unit: 'time', key: true },
      { name: 'source', unit: 'text', key: true },
      { name: 'count()', unit: 'count', key: false, additive: true },
      { name: 'p95(took)', unit: 'duration', key: false },
    ],
    rows,
    groups: rows.length,
    leftOut: 0,
  };
}

const rows: readonly Row[] = [
  [2_000, 'tides', 5, 0.5],
  [1_000, 'gates', 7, 0.25],
  [1_000, 'tides', 1, null],
  [2_000, 'ferry', 2, 3],
];

test('time goes down and groups across, the largest first, the others together', () => {
  expect(summaryGrid(table(rows), 2, 2)).toEqual({
    groups: [
      { name: 'gates', total: 7 },
      { name: 'tides', total: 6 },
    ],
    others: 1,
    rows: [
      { time: 1_000, cells: [7, 1], rest: 0, total: 8 },
      { time: 2_000, cells: [null, 5], rest: 2, total: 7 },
    ],
  });
});

test('what cannot be added up has no totals', () => {
  const grid = summaryGrid(table(rows), 3, 2);
  expect(grid.groups).toEqual([
    { name: 'ferry', total: null },
    { name: 'tides', total: null },
  ]);
  expect(grid.rows[1]).toEqual({ time: 2_000, cells: [3, 0.5], rest: null, total: null });
});

test('nothing is lost or doubled', () => {
  const row = fc.tuple(
    fc.integer({ min: 0, max: 5 }).map((n) => n * 1_000),
    fc.constantFrom('gates', 'tides', 'ferry', 'berths'),
    fc.integer({ min: 0, max: 1_000 }),
    fc.constant(null),
  );
  const unique = fc.uniqueArray(row, { selector: ([time, source]) => `${time} ${source}` });
  fc.assert(
    fc.property(unique, fc.integer({ min: 0, max: 5 }), (some, most) => {
      const sum = some.reduce((total, [, , count]) => total + count, 0);
      const grid = summaryGrid(table(some), 2, most);
      expect(grid.rows.reduce((total, one) => total + (one.total ?? 0), 0)).toBe(sum);
      const rest = grid.rows.reduce((total, one) => total + (one.rest ?? 0), 0);
      expect(grid.groups.reduce((total, group) => total + (group.total ?? 0), rest)).toBe(sum);
      expect(grid.groups.length + grid.others).toBe(new Set(some.map(([, source]) => source)).size);
    }),
  );
});
