import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';
import type { SummaryValue } from '#core/summaries/aggregate-states.ts';
import { groupTotals } from '#core/summaries/group-totals.ts';
import { groupKeys } from '#core/summaries/summary-grid.ts';
import type { ColumnUnit, SummaryTable } from '#core/summaries/summary-table.ts';
import type { Palette } from '../../../charts/chart.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';
import { rings } from './rings.ts';
import type { Earlier } from './use-earlier.ts';

/** Ways to draw a summary with the chart library. */
export const drawings = ['line', 'column', 'bar', 'ring'] as const;

/** One of {@link drawings}. */
export type Drawing = (typeof drawings)[number];

/** Ways to show a summary beside its table, and the table alone. */
export const pictures = [...drawings, 'map', 'number', 'table'] as const;

/** A value of a summary in words, by what its column measures. */
export function show(value: SummaryValue | undefined, unit: ColumnUnit): string {
  if (value === null || value === undefined) return '–';
  if (typeof value !== 'number') return String(value);
  if (unit === 'time') return dayAndMinute(value);
  if (unit === 'duration') return formatDuration(value);
  if (unit === 'size') return formatBytes(value);
  if (unit === 'per-second') return `${formatCount(value)}/s`;
  return unit === 'count' ? formatCount(value) : value.toLocaleString('en-US', { maximumSignificantDigits: 6 });
}

/** Most series and slices drawn, as many as there are colours; the rest is in the table. */
export const mostDrawn = 10;

/** Most lines that have their names at their ends; more would stand over one another, and are listed at the side. */
const mostLabelled = 4;

/** A stretch of time that does not show all of itself; times in milliseconds. */
export interface CutStretch {
  readonly from: number;
  readonly every: number;
  readonly why: string;
  /** Whether it is the first one. */
  readonly isFirst: boolean;
}

/** How a summary is drawn. */
export interface Picture {
  readonly kind: Drawing;
  /** Whether the first column is a time. */
  readonly bucketed: boolean;
  /** The place of the column that is drawn. */
  readonly measure: number;
  readonly unit: ColumnUnit;
  /** The first and the last stretch, where they do not show all of themselves. */
  readonly cut?: readonly CutStretch[] | undefined;
  /** The same of an earlier time, which is drawn dashed beside lines. */
  readonly earlier?: Earlier | undefined;
}

/** What the chart library draws for a summary: series over time, or bars, columns and slices by key. */
export function pictureOption(
  table: SummaryTable,
  { kind, bucketed, measure, unit, cut = [], earlier }: Picture,
  palette: Palette,
) {
  const nameOf = (row: readonly SummaryValue[]): string =>
    groupKeys(table, row).join(' · ') || (table.columns[measure]?.name ?? '');
  const axis = {
    axisLabel: { color: palette.second, fontSize: 11.5 },
    axisLine: { lineStyle: { color: palette.second } },
    splitLine: { lineStyle: { color: palette.hair, opacity: 0.6 } },
  };
  const amount = { ...axis, type: 'value', axisLabel: { ...axis.axisLabel, formatter: (n: number) => show(n, unit) } };
  const tooltip = {
    trigger: bucketed && kind !== 'ring' ? 'axis' : 'item',
    valueFormatter: (n: number) => show(n, unit),
    backgroundColor: palette.sheet,
    borderColor: palette.hair,
    textStyle: { color: palette.ink },
  };
  const grid = { left: kind === 'bar' ? 8 : 64, right: 110, top: 12, bottom: 24, containLabel: kind === 'bar' };
  const totals = groupTotals(table, measure, nameOf);
  const names = [...totals]
    .sort((a, b) => b[1] - a[1])
    .slice(0, mostDrawn)
    .map(([name]) => name);
  const colour = (index: number): string => palette.series[index] ?? palette.ink;
  if (kind === 'ring') {
    const keys = new Map(table.rows.map((row) => [nameOf(row), groupKeys(table, row)]));
    const groups = names.map((name) => ({ keys: keys.get(name) ?? [name], value: totals.get(name) ?? 0 }));
    const all = [...totals.values()].reduce((sum, total) => sum + total, 0);
    const rest = table.columns[measure]?.additive ? all - groups.reduce((sum, group) => sum + group.value, 0) : 0;
    const words = { tell: (value: number) => show(value, unit), addUp: table.columns[measure]?.additive === true };
    return { tooltip, series: rings(groups, rest, palette, words) };
  }
  if (bucketed && kind !== 'bar') {
    const isLabelled = kind === 'line' && names.length <= mostLabelled;
    const series = names.map((name, i) => ({
      name,
      type: kind === 'line' ? 'line' : 'bar',
      ...(kind === 'column' && { stack: 'all' }),
      showSymbol: false,
      itemStyle: { color: colour(i) },
      lineStyle: { width: 1.5 },
      // The name stands where its line ends.
      endLabel: { show: isLabelled, formatter: '{a}', color: colour(i), width: 140, overflow: 'truncate' },
      emphasis: { focus: 'series' },
      ...(i === 0 && cut.length > 0 && { markArea: cutAreas(cut, kind, palette) }),
      data: table.rows.filter((row) => nameOf(row) === name).map((row) => [row[0], row[measure]]),
    }));
    const earlierLine = (name: string, color: string, { table: other, shift }: Earlier) => ({
      name: `${name}, earlier`,
      type: 'line',
      showSymbol: false,
      itemStyle: { color },
      lineStyle: { width: 1.2, type: 'dashed', opacity: 0.65 },
      data: other.rows.filter((row) => nameOf(row) === name).map((row) => [Number(row[0]) + shift, row[measure]]),
    });
    const before = kind === 'line' && earlier ? names.map((name, i) => earlierLine(name, colour(i), earlier)) : [];
    const legend = {
      show: !isLabelled,
      data: names,
      type: 'scroll',
      orient: 'vertical',
      right: 0,
      top: 8,
      bottom: 24,
      itemWidth: 18,
      itemHeight: 10,
      textStyle: { color: palette.ink, fontSize: 12, width: 110, overflow: 'truncate' },
      pageTextStyle: { color: palette.second },
    };
    const xAxis = { ...axis, type: 'time', splitLine: { show: false } };
    return { grid: { ...grid, right: 160 }, tooltip, legend, xAxis, yAxis: amount, series: [...series, ...before] };
  }
  const category = {
    ...axis,
    type: 'category',
    data: kind === 'bar' ? [...names].reverse() : names,
    axisTick: { show: false },
  };
  const data = (kind === 'bar' ? [...names].reverse() : names).map((name) => totals.get(name));
  const series = [
    {
      type: 'bar',
      itemStyle: { color: palette.depth[4] },
      barMaxWidth: 22,
      label: {
        show: true,
        position: kind === 'bar' ? 'right' : 'top',
        color: palette.ink,
        formatter: ({ value: n }: { readonly value: number }) => show(n, unit),
      },
      data,
    },
  ];
  return kind === 'bar'
    ? { grid, tooltip, xAxis: amount, yAxis: category, series }
    : { grid, tooltip, xAxis: category, yAxis: amount, series };
}

/** Marks stretches that do not show all of themselves: what is drawn there is less than there is or will be. */
function cutAreas(cut: readonly CutStretch[], kind: Drawing, palette: Palette) {
  return {
    silent: true,
    itemStyle: { color: palette.sand, opacity: 0.25 },
    data: cut.map((stretch) => {
      const [begin, end] = edgesOf(stretch, kind);
      // It reads on towards the middle of the picture, where there is room.
      const position = stretch.isFirst ? 'insideTopLeft' : 'insideTopRight';
      const label = { color: palette.second, fontSize: 11.5, position };
      return [{ name: stretch.why, xAxis: begin, label }, { xAxis: end }];
    }),
  };
}

/** Where a stretch is drawn: a column is on it, a line rises from the first one and falls towards the last. */
function edgesOf({ from, every, isFirst }: CutStretch, kind: Drawing): readonly [number, number] {
  if (kind !== 'line') return [from - every / 2, from + every / 2];
  return isFirst ? [from, from + every] : [from - every, from];
}
