'use client';

import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs';
import { useCallback, useMemo } from 'react';
import type { TimeWindow } from '#core/conditions/times.ts';
import { formatCount } from '#core/events/units.ts';
import { summaryCsv } from '#core/summaries/summary-csv.ts';
import { summaryGrid } from '#core/summaries/summary-grid.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { Chart, type Palette } from '../../../charts/chart.tsx';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { type Column, DataTable } from '../../../kit/data-table.tsx';
import { saveFile } from '../../../kit/save-file.ts';
import { whyCut } from '../cut-stretch.ts';
import type { SearchRequest } from '../use-search.ts';
import { PlacesMap } from './places-map.tsx';
import { placesOf } from './places-of.ts';
import { SummaryFigures } from './summary-figures.tsx';
import { SummaryGridTable } from './summary-grid-table.tsx';
import {
  type CutStretch,
  type Drawing,
  drawings,
  mostDrawn,
  pictureOption,
  pictures,
  show,
} from './summary-picture.ts';
import { earlierTimes, useEarlier } from './use-earlier.ts';

/** A summary as a picture and as a table. `estimated` marks counts that come from sampled events. */
export function SummaryView(props: {
  readonly table: SummaryTable;
  readonly estimated: boolean;
  /** What it answers: a stretch that reaches beyond its window is not whole. */
  readonly asked: SearchRequest;
  /** Length of the stretches of time, in milliseconds; 0 for none. */
  readonly every: number;
}) {
  const { table, estimated, asked, every } = props;
  const { from, to } = asked;
  const bucketed = every > 0;
  const measures = table.columns.filter(({ key }) => !key);
  const [picture, setPicture] = useQueryState('picture', parseAsStringLiteral(pictures));
  const [wanted, setWanted] = useQueryState('measure', parseAsString);
  const chosen = measures.find(({ name }) => name === wanted) ?? measures[0];
  const measure = table.columns.findIndex(({ name }) => name === chosen?.name);
  const unit = chosen?.unit ?? 'none';
  const places = useMemo(() => placesOf(table, measure), [table, measure]);
  const offered = pictures.filter((one) => (one === 'line' ? bucketed : one === 'map' ? places !== undefined : true));
  const usual = bucketed ? 'line' : measures.length === table.columns.length ? 'number' : 'bar';
  const kind = offered.find((one) => one === picture) ?? usual;
  const cut = useMemo(
    () => (bucketed ? cutStretches(table, every, { from, to }) : []),
    [table, bucketed, from, to, every],
  );
  const grid = useMemo(
    () => (bucketed ? summaryGrid(table, measure, mostDrawn) : undefined),
    [table, measure, bucketed],
  );
  const [beside, setBeside] = useQueryState('beside', parseAsStringLiteral(earlierTimes).withDefault('nothing'));
  const earlier = useEarlier(asked, bucketed && kind === 'line' ? beside : 'nothing');
  const option = useCallback(
    (palette: Palette) =>
      isDrawing(kind) ? pictureOption(table, { kind, bucketed, measure, unit, cut, earlier }, palette) : {},
    [table, kind, bucketed, measure, unit, cut, earlier],
  );
  const download = (): void => saveFile('summary.csv', 'text/csv', summaryCsv(table));
  const columns = useMemo(() => columnsFor(table, estimated), [table, estimated]);
  const drawable = table.rows.some((row) => typeof row[measure] === 'number');
  return (
    <div className="min-w-0 flex-1">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-2">
        <span className="flex flex-wrap gap-3">
          <Choice
            label="Picture"
            value={kind}
            onChange={(value) => void setPicture(value)}
            options={offered.map((value) => ({ value, title: value }))}
          />
          {measures.length > 1 && (
            <Choice
              label="Measure"
              value={chosen?.name ?? ''}
              onChange={(value) => void setWanted(value)}
              options={measures.map(({ name }) => ({ value: name, title: name }))}
            />
          )}
          {bucketed && kind === 'line' && (
            <Choice
              label="Beside it"
              value={beside}
              onChange={(value) => void setBeside(value)}
              options={earlierTimes.map((value) => ({ value, title: value === 'nothing' ? 'by itself' : value }))}
            />
          )}
        </span>
        <span className="text-[12.5px] text-second">
          {grid
            ? `${counted(grid.groups.length + grid.others, 'group')} over ${counted(grid.rows.length, 'stretch', 'stretches')} of time`
            : counted(table.groups, 'group')}
          {table.leftOut > 0 &&
            `; ${formatCount(table.leftOut)} more were left out: narrow the condition or use fewer keys`}
          <Button look="quiet" onClick={download}>
            CSV
          </Button>
        </span>
      </div>
      {isDrawing(kind) && drawable && <Chart label="The summary as a picture" height={250} option={option} />}
      {kind === 'map' && places && <PlacesMap places={places} unit={unit} />}
      {kind === 'number' && <SummaryFigures table={table} estimated={estimated} />}
      <div className="mt-3">
        {grid ? (
          <SummaryGridTable
            key={measure}
            grid={grid}
            unit={unit}
            estimated={estimated}
            window={{ from, to }}
            every={every}
          />
        ) : (
          <DataTable
            key={measure}
            name="summary"
            label="Summary"
            columns={columns}
            rows={table.rows}
            keyOf={(row) => JSON.stringify(row)}
            {...(wanted !== null && chosen && { sorted: { by: chosen.name, way: 'descending' as const } })}
            isPlain
          />
        )}
      </div>
    </div>
  );
}

function isDrawing(kind: (typeof pictures)[number]): kind is Drawing {
  return drawings.some((drawing) => drawing === kind);
}

function counted(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`;
}

/** The first and the last stretch, where they do not show all of themselves. */
function cutStretches({ rows }: SummaryTable, every: number, window: TimeWindow): readonly CutStretch[] {
  const times = rows.map((row) => Number(row[0]));
  const first = Math.min(...times);
  const last = Math.max(...times);
  const now = Date.now();
  return [...new Set([first, last])].flatMap((from) => {
    const why = whyCut({ time: from, every }, window, now);
    return why === undefined ? [] : [{ from, every, why, isFirst: from === first && first < last }];
  });
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
