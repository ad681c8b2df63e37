'use client';

import { parseAsStringLiteral, useQueryState } from 'nuqs';
import { useCallback, useMemo } from 'react';
import { formatCount } from '#core/events/units.ts';
import { summaryCsv } from '#core/search/summary-csv.ts';
import type { SummaryTable } from '#core/search/summary-table.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { saveFile } from '../../kit/save-file.ts';
import { pictureOption, pictures, show } from './summary-picture.ts';

/** A summary as a picture and as a table. `estimated` marks counts that come from sampled events. */
export function SummaryView({ table, estimated }: { readonly table: SummaryTable; readonly estimated: boolean }) {
  const bucketed = table.columns[0]?.unit === 'time' && table.columns[0].key;
  const [picture, setPicture] = useQueryState('picture', parseAsStringLiteral(pictures));
  const kind = picture ?? (bucketed ? 'line' : 'bar');
  const measure = table.columns.findIndex((column) => !column.key);
  const unit = table.columns[measure]?.unit ?? 'none';
  const option = useCallback(
    (palette: Palette) => pictureOption(table, { kind, bucketed: bucketed === true, measure, unit }, palette),
    [table, kind, bucketed, measure, unit],
  );
  const download = (): void => saveFile('summary.csv', 'text/csv', summaryCsv(table));
  const columns = useMemo(() => columnsFor(table, estimated), [table, estimated]);
  const drawable = typeof table.rows[0]?.[measure] === 'number';
  return (
    <div className="min-w-0 flex-1">
      <div className="mb-2 flex items-center justify-between">
        <Choice
          label="Picture"
          value={kind}
          onChange={(value) => void setPicture(value)}
          options={pictures.map((value) => ({ value, title: value }))}
        />
        <span className="text-[12.5px] text-second">
          {formatCount(table.groups)} {table.groups === 1 ? 'group' : 'groups'}
          {table.leftOut > 0 &&
            `; ${formatCount(table.leftOut)} more were left out: narrow the condition or use fewer keys`}
          <Button look="quiet" onClick={download}>
            CSV
          </Button>
        </span>
      </div>
      {drawable && <Chart label="The summary as a picture" height={250} option={option} />}
      <div className="mt-3">
        <DataTable
          name="summary"
          label="Summary"
          columns={columns}
          rows={table.rows}
          keyOf={(row) => JSON.stringify(row)}
          isPlain
        />
      </div>
    </div>
  );
}

type SummaryRow = SummaryTable['rows'][number];

function columnsFor({ columns }: SummaryTable, estimated: boolean): readonly Column<SummaryRow>[] {
  return columns.map(({ name, key, unit }, index) => ({
    id: name,
    title: name,
    ...(key ? {} : ({ align: 'right', first: 'descending' } as const)),
    value: (row: SummaryRow) => plain(row[index]),
    cell: (row: SummaryRow) => (
      <span className={key ? 'line' : ''}>
        {estimated && unit === 'count' && '≈ '}
        {show(row[index], unit)}
      </span>
    ),
  }));
}

function plain(value: SummaryRow[number] | undefined): string | number | null {
  return typeof value === 'boolean' ? String(value) : (value ?? null);
}
