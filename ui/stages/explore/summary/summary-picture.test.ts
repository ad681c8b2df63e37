import { describe, expect, test } from 'vitest';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { palette } from '../../../charts/testing/palette.ts';
import { type Drawing, drawings, pictureOption, show } from './summary-picture.ts';

interface Drawn {
  readonly name?: string;
  readonly type: string;
  readonly data: readonly (unknown[] | { readonly name: string; readonly value: number } | number)[];
  readonly itemStyle?: { readonly color: string };
  readonly endLabel?: { readonly show: boolean };
}

function drawn(table: SummaryTable, kind: Drawing, bucketed: boolean): readonly Drawn[] {
  const measure = table.columns.findIndex(({ key }) => !key);
  const option: object = pictureOption(table, { kind, bucketed, measure, unit: 'count' }, palette);
  return 'series' in option ? (option.series as readonly Drawn[]) : [];
}

const byPort: SummaryTable = {
  columns: [
    { name: 'port', unit: 'text', key: true },
    { name: 'count()', unit: 'count', key: false, additive: true },
  ],
  rows: [
    ['Tarnholm', 7],
    ['Skerryvoe', 12],
    [null, 1],
  ],
  groups: 3,
  leftOut: 0,
};

const overTime = (ports: number): SummaryTable => ({
  columns: [{ name: 'time', unit: 'time', key: true }, ...byPort.columns],
  rows: [0, 1, 2].flatMap((slot) => Array.from({ length: ports }, (_, i) => [slot * 60_000, `port-${i}`, i + slot])),
  groups: 3 * ports,
  leftOut: 0,
});

describe('by a key', () => {
  test('the largest come first; a missing value is a dash', () => {
    const [columns] = drawn(byPort, 'column', false);
    expect(columns?.data).toEqual([12, 7, 1]);
    const [slices] = drawn(byPort, 'ring', false);
    expect(slices?.data).toMatchObject([
      { name: 'Skerryvoe', value: 12 },
      { name: 'Tarnholm', value: 7 },
      { name: '–', value: 1 },
    ]);
  });

  test('bars stand the other way round, the largest at the top', () => {
    expect(drawn(byPort, 'bar', false)[0]?.data).toEqual([1, 7, 12]);
  });
});

describe('over time', () => {
  test('each key is a series of its own, in the order of their totals', () => {
    const series = drawn(overTime(3), 'line', true);
    expect(series.map(({ name }) => name)).toEqual(['port-2', 'port-1', 'port-0']);
    expect(series[0]?.data).toEqual([
      [0, 2],
      [60_000, 3],
      [120_000, 4],
    ]);
    expect(series.every(({ type }) => type === 'line')).toBe(true);
    expect(drawn(overTime(3), 'column', true).every(({ type }) => type === 'bar')).toBe(true);
  });

  test('as many are drawn as there are colours, the largest, each with its own', () => {
    const series = drawn(overTime(30), 'line', true);
    expect(series.map(({ name }) => name)).toEqual(Array.from({ length: 10 }, (_, i) => `port-${29 - i}`));
    expect(new Set(series.map(({ itemStyle }) => itemStyle?.color)).size).toBe(10);
    expect(series.every(({ endLabel }) => endLabel?.show)).toBe(false);
  });

  test('a few lines have their names at their ends', () => {
    expect(drawn(overTime(3), 'line', true).every(({ endLabel }) => endLabel?.show)).toBe(true);
  });

  test('the first and last stretch are marked where they do not show all of themselves', () => {
    const picture = {
      kind: 'line',
      bucketed: true,
      measure: 2,
      unit: 'count',
      cut: [
        { from: 0, every: 60_000, why: 'cut by the window', isFirst: true },
        { from: 120_000, every: 60_000, why: 'not over yet', isFirst: false },
      ],
    } as const;
    const { series = [] } = pictureOption(overTime(3), picture, palette);
    const marked = series.filter((one) => 'markArea' in one);
    expect(marked).toHaveLength(1);
    expect(marked[0]).toMatchObject({
      markArea: {
        data: [
          [{ name: 'cut by the window', xAxis: 0 }, { xAxis: 60_000 }],
          [{ name: 'not over yet', xAxis: 60_000 }, { xAxis: 120_000 }],
        ],
      },
    });
  });

  test('as slices or bars, the buckets are added up', () => {
    expect(drawn(overTime(2), 'ring', true)[0]?.data).toMatchObject([
      { name: 'port-1', value: 6 },
      { name: 'port-0', value: 3 },
    ]);
    expect(drawn(overTime(2), 'bar', true)[0]?.data).toEqual([3, 6]);
  });
});

test.each(drawings)('an empty table is drawn as an empty %s', (kind) => {
  const empty = { ...byPort, rows: [], groups: 0 };
  for (const series of drawn(empty, kind, false)) expect(series.data).toEqual([]);
});

test.each<[Parameters<typeof show>[0], Parameters<typeof show>[1], string]>([
  [null, 'count', '–'],
  ['Tarnholm', 'text', 'Tarnholm'],
  [12_345, 'count', '12,345'],
  [0.25, 'duration', '250 ms'],
  [3_000_000, 'size', '3 MB'],
  [2.5, 'per-second', '2.5/s'],
  [0.123456789, 'none', '0.123457'],
])('%j as %s is shown as %s', (value, unit, text) => {
  expect(show(value, unit)).toBe(text);
});

test('a second measure is drawn by the same keys, over time by the most that it was', () => {
  const [port, count] = byPort.columns;
  if (!port || !count) throw new Error('there are no columns');
  const table: SummaryTable = {
    ...byPort,
    columns: [
      { name: 'time', unit: 'time', key: true },
      port,
      count,
      { name: 'p95(took)', unit: 'duration', key: false },
    ],
    rows: [
      [0, 'Tarnholm', 7, 2],
      [60_000, 'Tarnholm', 9, 1],
      [0, 'Skerryvoe', 1, 5],
    ],
  };
  const picture = { bucketed: true, measure: 3, unit: 'duration' } as const;
  const { series: lines = [] } = pictureOption(table, { ...picture, kind: 'line' }, palette);
  expect(lines.map((one) => 'name' in one && one.name)).toEqual(['Skerryvoe', 'Tarnholm']);
  const { series: bars = [] } = pictureOption(table, { ...picture, kind: 'bar' }, palette);
  expect(bars[0]?.data).toEqual([2, 5]);
});

test('an earlier time is drawn dashed over the same hours', () => {
  const now = overTime(1);
  const hour = 3_600_000;
  const earlier = { table: now, shift: hour };
  const picture = { kind: 'line', bucketed: true, measure: 2, unit: 'count', earlier } as const;
  const { series = [] } = pictureOption(now, picture, palette);
  expect(series.map((one) => 'name' in one && one.name)).toEqual(['port-0', 'port-0, earlier']);
  expect(series[1]?.data).toEqual([
    [hour, 0],
    [hour + 60_000, 1],
    [hour + 120_000, 2],
  ]);
});
