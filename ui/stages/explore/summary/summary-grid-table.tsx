'use client';

import { useMemo } from 'react';
import type { TimeWindow } from '#core/conditions/times.ts';
import { formatCount } from '#core/events/units.ts';
import type { GridRow, SummaryGrid } from '#core/summaries/summary-grid.ts';
import type { ColumnUnit } from '#core/summaries/summary-table.ts';
import { type Column, DataTable } from '../../../kit/data-table.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';
import { whyCut } from '../cut-stretch.ts';
import { show } from './summary-picture.ts';

/** A measure of a summary over time: times down, groups across, with totals where they can be added up. */
export function SummaryGridTable(props: {
  readonly grid: SummaryGrid;
  readonly unit: ColumnUnit;
  readonly estimated: boolean;
  readonly window: TimeWindow;
  /** Length of a row, in milliseconds. */
  readonly every: number;
}) {
  const { grid, unit, estimated, every } = props;
  const { from, to } = props.window;
  const columns = useMemo(
    () => columnsOf(grid, { unit, estimated, window: { from, to }, every }),
    [grid, unit, estimated, from, to, every],
  );
  return (
    <>
      <DataTable
        name="summary-grid"
        label="Summary"
        columns={columns}
        rows={grid.rows}
        keyOf={({ time }) => String(time)}
        sorted={{ by: 'time', way: 'descending' }}
        isPlain
      />
      <Totals grid={grid} unit={unit} />
    </>
  );
}

interface Look {
  readonly unit: ColumnUnit;
  readonly estimated: boolean;
  readonly window: TimeWindow;
  readonly every: number;
}

function columnsOf(grid: SummaryGrid, { unit, estimated, window, every }: Look): readonly Column<GridRow>[] {
  const amount = (id: string, title: string, value: (row: GridRow) => GridRow['cells'][number]): Column<GridRow> => ({
    id,
    title,
    align: 'right',
    first: 'descending',
    value: (row) => plain(value(row)),
    cell: (row) => {
      const one = value(row);
      return `${estimated && unit === 'count' && one !== null ? '≈ ' : ''}${show(one, unit)}`;
    },
  });
  const now = Date.now();
  const why = (time: number): string | undefined => whyCut({ time, every }, window, now);
  const rest = grid.others > 0 && grid.rows.some((row) => row.rest !== null);
  const total = grid.groups.length > 1 && grid.rows.some((row) => row.total !== null);
  return [
    {
      id: 'time',
      title: 'time',
      first: 'descending',
      value: ({ time }) => time,
      cell: ({ time }) => (
        <span className="whitespace-nowrap">
          {dayAndMinute(time)}
          {why(time) !== undefined && <span className="text-second"> · {why(time)}</span>}
        </span>
      ),
    },
    ...grid.groups.map(({ name }, index) =>
      amount(`group ${name}`, name === '' ? 'all' : name, ({ cells }) => cells[index] ?? null),
    ),
    ...(rest ? [amount('rest', `${formatCount(grid.others)} more`, (row) => row.rest)] : []),
    ...(total ? [amount('total', 'together', (row) => row.total)] : []),
  ];
}

/** What each group has over all times. */
function Totals({ grid, unit }: { readonly grid: SummaryGrid; readonly unit: ColumnUnit }) {
  const added = grid.groups.filter(({ total }) => total !== null);
  if (added.length === 0) return null;
  const all = grid.rows.reduce((sum, { total }) => sum + (total ?? 0), 0);
  return (
    <p className="mt-1.5 text-[12.5px] text-second">
      Over all times: {added.map(({ name, total }) => `${name === '' ? 'all' : name} ${show(total, unit)}`).join(', ')}
      {added.length > 1 && `; together ${show(all, unit)}`}.
    </p>
  );
}

function plain(value: GridRow['cells'][number]): string | number | null {
  return typeof value === 'boolean' ? String(value) : value;
}
