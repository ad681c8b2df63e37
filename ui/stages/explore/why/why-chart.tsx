'use client';

import { useCallback } from 'react';
import { Chart, type Palette } from '../../../charts/chart.tsx';
import { timeAxes } from '../../../charts/time-axes.ts';
import type { WhyAnswer } from '../../../data/answers.ts';
import { formatShown } from '../../../kit/times/times.ts';
import { figureInWords } from './in-words.ts';

/** Most stretches that are drawn; of more, neighbours are put together. */
const mostDrawn = 340;

/** The figure over time, what was to be expected below it, and when it left that. */
export function WhyChart({ answer }: { readonly answer: WhyAnswer }) {
  const { series, began, times, unit } = answer;
  const option = useCallback(
    (palette: Palette) => {
      const { times: starts, figures, expected } = drawn(answer);
      const format = (value: number): string => figureInWords(value, unit);
      const at = starts.map((time, i) => [time, figures[i] ?? null]);
      return {
        ...timeAxes(palette, format, {
          span: { from: series.start, to: series.start + series.figures.length * series.width },
        }),
        series: [
          {
            name: 'measured',
            type: 'line',
            showSymbol: false,
            lineStyle: { color: palette.depth[5], width: 1.5 },
            itemStyle: { color: palette.depth[5] },
            areaStyle: { color: palette.depth[1], opacity: 0.5 },
            data: at,
            markArea: {
              silent: true,
              itemStyle: { color: palette.mark, opacity: 0.09 },
              label: { color: palette.mark, position: 'insideTopLeft', fontSize: 11.5 },
              data: [
                [
                  { name: formatShown(began ?? times.since.from, 'HH:mm'), xAxis: began ?? times.since.from },
                  { xAxis: times.since.to },
                ],
              ],
            },
          },
          ...(expected
            ? [
                {
                  name: 'expected',
                  type: 'line',
                  showSymbol: false,
                  lineStyle: { color: palette.second, width: 1, type: 'dashed' },
                  itemStyle: { color: palette.second },
                  data: starts.map((time, i) => [time, expected[i] ?? null]),
                },
              ]
            : []),
        ],
      };
    },
    [answer, series, began, times, unit],
  );
  if (series.figures.length < 2) return null;
  return (
    <Chart
      label={`The figure over time${began === undefined ? '' : `, and when it changed: ${formatShown(began, 'd MMM HH:mm')}`}`}
      height={200}
      option={option}
    />
  );
}

/** Figures in stretches wide enough to be drawn: counts are added up, other figures are means. */
function drawn({ series, unit }: WhyAnswer) {
  const { start, width, figures, expected } = series;
  const together = Math.max(1, Math.ceil(figures.length / mostDrawn));
  const count = Math.floor(figures.length / together);
  const isSum = unit === 'count' || unit === 'size';
  const put = (values: readonly (number | null)[], place: number): number | null => {
    const known = values.slice(place * together, (place + 1) * together).filter((value) => value !== null);
    if (known.length === 0) return isSum ? 0 : null;
    const sum = known.reduce((all, value) => all + value, 0);
    return isSum ? sum : sum / known.length;
  };
  const places = Array.from({ length: count }, (_, place) => place);
  return {
    times: places.map((place) => start + place * together * width),
    figures: places.map((place) => put(figures, place)),
    expected: expected && places.map((place) => put(expected, place)),
  };
}
