'use client';

import { useMemo } from 'react';
import { formatCount } from '#core/events/units.ts';
import { summaryCsv } from '#core/summaries/summary-csv.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { parseMeasure } from '#core/why/measure.ts';
import { Chart } from '../../../charts/chart.tsx';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { counted } from '../../../kit/counted.ts';
import { type Column, DataTable } from '../../../kit/data-table.tsx';
import { saveFile } from '../../../kit/save-file.ts';
import { WhySpan } from '../../../parts/why-span.tsx';
import type { SearchRequest } from '../use-search.ts';
import { PlacesMap } from './places-map.tsx';
import { SummaryFigures } from './summary-figures.tsx';
import { SummaryGridTable } from './summary-grid-table.tsx';
import { show } from './summary-picture.ts';
import { earlierTimes } from './use-earlier.ts';
import type { SummaryPicture } from './use-summary-picture.ts';
import { isDrawing, useSummaryPicture } from './use-summary-picture.ts';

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
  const state = useSummaryPicture(table, asked, every);
  const { kind, chosen, measure, places, grid, option } = state;
  const columns = useMemo(() => columnsFor(table, estimated), [table, estimated]);
  const drawable = table.rows.some((row) => typeof row[measure] === 'number');
  const unit = chosen?.unit ?? 'none';
  const isOverTime = every > 0 && (kind === 'line' || kind === 'column');
  return (
    <div className="min-w-0 flex-1">
      <div className="mb-2 flex flex-wrap items-center justify-between gap-2">
        <PictureChoices state={state} />
        <span className="text-[12.5px] text-second">
          {grid
            ? `${counted(grid.groups.length + grid.others, 'group')} over ${counted(grid.rows.length, 'stretch', 'stretches')} of time`
            : counted(table.groups, 'group')}
          {table.leftOut > 0 &&
            `; ${formatCount(table.leftOut)} more were left out: narrow the condition or use fewer keys`}
          <Button look="quiet" onClick={() => saveFile('summary.csv', 'text/csv', summaryCsv(table))}>
            CSV
          </Button>
        </span>
      </div>
      {isDrawing(kind) && drawable && (
        <Chart
          label="The summary as a picture"
          height={250}
          option={option}
          {...(isOverTime && {
            spanActions: (span) => (
              <WhySpan condition={asked.condition} measure={measureOf(chosen?.name ?? '')} {...span} />
            ),
          })}
        />
      )}
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
            {...(state.isMeasureChosen && chosen && { sorted: { by: chosen.name, way: 'descending' as const } })}
            isPlain
          />
        )}
      </div>
    </div>
  );
}

/** Which picture, of which measure, beside which time. */
function PictureChoices({ state }: { readonly state: SummaryPicture }) {
  return (
    <span className="flex flex-wrap gap-3">
      <Choice
        label="Picture"
        value={state.kind}
        onChange={(value) => void state.choosePicture(value)}
        options={state.offered.map((value) => ({ value, title: value }))}
      />
      {state.measures.length > 1 && (
        <Choice
          label="Measure"
          value={state.chosen?.name ?? ''}
          onChange={(value) => void state.chooseMeasure(value)}
          options={state.measures.map(({ name }) => ({ value: name, title: name }))}
        />
      )}
      {state.isBeside && (
        <Choice
          label="Beside it"
          value={state.beside}
          onChange={(value) => void state.chooseBeside(value)}
          options={earlierTimes.map((value) => ({ value, title: value === 'nothing' ? 'by itself' : value }))}
        />
      )}
    </span>
  );
}

/** The measure whose change a drag on the picture asks about: the shown figure, unless it cannot be explained. */
function measureOf(figure: string): string {
  return parseMeasure(figure).ok ? figure : 'events';
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
