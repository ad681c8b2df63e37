'use client';

import { parseAsStringLiteral, useQueryState } from 'nuqs';
import { useCallback } from 'react';
import { formatCount } from '#core/events/units.ts';
import { summaryCsv } from '#core/search/summary-csv.ts';
import type { SummaryTable } from '#core/search/summary-table.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { pictureOption, pictures, show } from './summary-picture.ts';

/** A summary as a picture and as a table. `estimated` marks counts that come from sampled events. */
export function SummaryView({ table, estimated }: { readonly table: SummaryTable; readonly estimated: boolean }) {
  const bucketed = table.columns[0]?.unit === 'time' && table.columns[0].key;
  const [picture, setPicture] = useQueryState('picture', parseAsStringLiteral(pictures));
  const kind = picture ?? (bucketed ? 'line' : 'bar');
  const measure = table.columns.findIndex((column) => !column.key);
  const unit = table.columns[measure]?.unit ?? 'none';
  const option = useCallback(
    (palette: Palette) => pictureOption(table, kind, bucketed === true, measure, unit, palette),
    [table, kind, bucketed, measure, unit],
  );
  const download = (): void => {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([summaryCsv(table)], { type: 'text/csv' }));
    link.download = 'summary.csv';
    link.click();
    URL.revokeObjectURL(link.href);
  };
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
          {formatCount(table.groups)} groups
          {table.leftOut > 0 &&
            `; ${formatCount(table.leftOut)} more were left out: narrow the condition or use fewer keys`}
          <Button look="quiet" onClick={download}>
            CSV
          </Button>
        </span>
      </div>
      {drawable && <Chart label="The summary as a picture" height={250} option={option} />}
      <div tabIndex={0} className="mt-3 max-h-[420px] overflow-auto border-y border-hair">
        <table className="w-full text-[12.5px]">
          <thead className="sticky top-0 bg-paper">
            <tr>
              {table.columns.map((column) => (
                <th key={column.name} scope="col" className={`py-1 pr-4 ${column.key ? '' : 'text-right'}`}>
                  {column.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.slice(0, 500).map((row) => (
              <tr key={JSON.stringify(row)} className="border-t border-hair/60">
                {table.columns.map((column, index) => (
                  <td key={column.name} className={`py-0.5 pr-4 ${column.key ? 'line' : 'text-right'}`}>
                    {estimated && column.unit === 'count' && '≈ '}
                    {show(row[index], column.unit)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
