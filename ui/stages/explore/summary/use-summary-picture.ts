'use client';

import type { EChartsCoreOption } from 'echarts/core';
import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs';
import { useCallback, useMemo } from 'react';
import type { TimeWindow } from '#core/conditions/times.ts';
import { type SummaryGrid, summaryGrid } from '#core/summaries/summary-grid.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import type { Palette } from '../../../charts/chart.tsx';
import { whyCut } from '../cut-stretch.ts';
import type { SearchRequest } from '../use-search.ts';
import { type Places, placesOf } from './places-of.ts';
import { type CutStretch, type Drawing, drawings, mostDrawn, pictureOption, pictures } from './summary-picture.ts';
import { type EarlierTime, earlierTimes, useEarlier } from './use-earlier.ts';

type Picture = (typeof pictures)[number];
type Column = SummaryTable['columns'][number];

/** How a summary is shown, as the address says it. */
export interface SummaryPicture {
  readonly kind: Picture;
  /** The pictures that the summary can be shown as. */
  readonly offered: readonly Picture[];
  readonly choosePicture: (picture: Picture) => void;
  readonly measures: readonly Column[];
  /** The measure that is shown; undefined where the summary has none. */
  readonly chosen: Column | undefined;
  /** Its place among the columns; -1 where there is none. */
  readonly measure: number;
  readonly isMeasureChosen: boolean;
  readonly chooseMeasure: (name: string) => void;
  /** Whether an earlier time can be shown beside it. */
  readonly isBeside: boolean;
  readonly beside: EarlierTime;
  readonly chooseBeside: (time: EarlierTime) => void;
  readonly places: Places | undefined;
  /** Groups over stretches of time; undefined where it is not over time. */
  readonly grid: SummaryGrid | undefined;
  readonly option: (palette: Palette) => EChartsCoreOption;
}

/** How a summary is shown; `every` is the length of its stretches of time in milliseconds, 0 for none. */
export function useSummaryPicture(table: SummaryTable, asked: SearchRequest, every: number): SummaryPicture {
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
  const isBeside = bucketed && kind === 'line';
  const earlier = useEarlier(asked, isBeside ? beside : 'nothing');
  const option = useCallback(
    (palette: Palette) =>
      isDrawing(kind) ? pictureOption(table, { kind, bucketed, measure, unit, cut, earlier }, palette) : {},
    [table, kind, bucketed, measure, unit, cut, earlier],
  );
  return {
    ...{ kind, offered, measures, chosen, measure, isMeasureChosen: wanted !== null },
    ...{ isBeside, beside, places, grid, option },
    choosePicture: (value) => void setPicture(value),
    chooseMeasure: (value) => void setWanted(value),
    chooseBeside: (value) => void setBeside(value),
  };
}

/** Whether a picture is drawn as a chart. */
export function isDrawing(kind: (typeof pictures)[number]): kind is Drawing {
  return drawings.some((drawing) => drawing === kind);
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
