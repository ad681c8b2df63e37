'use client';

import { useCallback } from 'react';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { timeAxes } from '../../charts/time-axes.ts';
import type { MetricAnswer, MetricLine } from '../../data/answers.ts';
import { figureInWords } from '../../parts/metrics/figures.ts';

/** Lines that are drawn; the others are put together where that can be done. */
const mostDrawn = 8;

/** What a chart of a metric shows. */
export interface MetricPicture extends Pick<MetricAnswer, 'from' | 'every' | 'whole' | 'lines' | 'figure' | 'unit'> {
  /** Whether lines add up to the whole, and are drawn on top of one another. */
  readonly isStacked: boolean;
  /** Whether there is little room: names of lines are left out. */
  readonly isSmall?: boolean;
  /** Whether the last step is not over: it is left out, as it would look like a fall. */
  readonly isRunning?: boolean;
  readonly before?: MetricLine | null;
  /** What the others come to together. */
  readonly others?: MetricLine | null;
  /** From when on (milliseconds) the lines behind it can be found. */
  readonly linesSince?: number | null;
  /** What was filled in from events that were stored before the metric began; milliseconds. */
  readonly filled?: { readonly from: number; readonly to: number } | null;
  /** A stretch that is pointed out; milliseconds. */
  readonly marked?: { readonly from: number; readonly to: number } | null;
}

/** A metric over time: all together, or by keys; `onTime` gets the time (milliseconds) that was clicked. */
export function MetricChart(props: {
  readonly picture: MetricPicture;
  readonly height: number;
  readonly onTime?: (time: number) => void;
}) {
  const { picture, height, onTime } = props;
  const option = useCallback((palette: Palette) => optionOf(picture, palette), [picture]);
  return (
    <Chart label={`${picture.figure} over time`} height={height} option={option} {...(onTime && { onPlace: onTime })} />
  );
}

function optionOf(picture: MetricPicture, palette: Palette) {
  const { from, every, whole, lines, figure, unit, isStacked, isSmall = false, isRunning, before, others } = picture;
  const drawn = lines.slice(0, mostDrawn);
  const isLayered = isStacked && drawn.length > 0;
  const all = drawn.length === 0 ? [{ ...whole, labels: [figure] }] : drawn;
  const rest = isLayered ? restOf(whole, drawn) : (others ?? undefined);
  const colour = (i: number): string =>
    drawn.length === 0 ? (palette.depth[4] ?? palette.ink) : (palette.series[i % palette.series.length] ?? palette.ink);
  // Layers that have gaps would fall through those below them.
  const points = (values: readonly (number | null)[]) =>
    values.slice(0, isRunning ? -1 : undefined).map((value, i) => [from + i * every, isLayered ? (value ?? 0) : value]);
  const line = (name: string, values: readonly (number | null)[], color: string, i: number) => ({
    name,
    type: 'line',
    showSymbol: false,
    itemStyle: { color },
    lineStyle: { width: isLayered ? 0 : 1.5 },
    ...(isLayered && { stack: 'all', areaStyle: { opacity: 0.85 } }),
    ...(i === 0 && drawn.length === 0 && { areaStyle: { opacity: 0.18 } }),
    ...(i === 0 && { markArea: { silent: true, data: areasOf(picture, palette) } }),
    data: points(values),
  });
  const axes = timeAxes(palette, (value) => figureInWords(value, figure, unit), {
    right: drawn.length > 0 && !isSmall ? 166 : 16,
  });
  return {
    ...axes,
    xAxis: { ...axes.xAxis, ...(isSmall && { splitNumber: 3 }) },
    legend: {
      show: drawn.length > 0 && !isSmall,
      ...{ orient: 'vertical', right: 0, top: 4, itemWidth: 10, itemHeight: 10, icon: 'rect' },
      textStyle: { color: palette.ink, fontSize: 12, width: 120, overflow: 'truncate' },
    },
    series: [
      ...all.map(({ labels, values }, i) => line(labels.join(' · '), values, colour(i), i)),
      ...(rest ? [line('other series', rest.values, palette.hair, all.length)] : []),
      ...(before
        ? [
            {
              name: 'previous period',
              type: 'line',
              showSymbol: false,
              itemStyle: { color: palette.second },
              lineStyle: { width: 1.2, type: 'dashed' },
              data: points(before.values),
            },
          ]
        : []),
    ],
  };
}

/** What the whole has beyond some lines; undefined where there is nothing. */
function restOf(whole: MetricLine, drawn: readonly MetricLine[]): MetricLine | undefined {
  const values = whole.values.map((value, i) => {
    const sum = drawn.reduce((all, line) => all + (line.values[i] ?? 0), 0);
    return value === null ? null : Math.max(0, value - sum);
  });
  return values.some((value) => value !== null && value > 1e-6)
    ? { labels: ['other series'], values, all: null }
    : undefined;
}

/** Stretches that stand out: what is pointed out, what has no lines any more, what was filled in. */
function areasOf(
  { from, every, linesSince = null, filled = null, marked = null }: MetricPicture,
  palette: Palette,
): readonly object[] {
  const area = (
    stretch: { readonly from: number; readonly to: number },
    name: string,
    color: string,
    opacity: number,
    position = 'insideTopRight',
  ) => [
    {
      ...{ name, xAxis: Math.max(from, stretch.from), itemStyle: { color, opacity } },
      label: { color: palette.mark, fontSize: 11.5, position },
    },
    { xAxis: stretch.to },
  ];
  return [
    ...(marked ? [area(marked, '', palette.mark, 0.25)] : []),
    ...(linesSince !== null && linesSince > from + every
      ? [area({ from, to: linesSince }, 'lines no longer stored', palette.sand, 0.18)]
      : []),
    ...(filled && filled.to > from + every
      ? [area(filled, 'filled in from stored lines', palette.depth[1] ?? palette.sand, 0.16, 'insideTopLeft')]
      : []),
  ];
}
