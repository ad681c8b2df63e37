'use client';

import { useCallback } from 'react';
import { day } from '#core/events/time-units.ts';
import { formatDuration } from '#core/events/units.ts';
import { Chart, type Palette } from '../../../charts/chart.tsx';
import { timeAxes } from '../../../charts/time-axes.ts';
import type { WhyAnswer } from '../../../data/answers.ts';
import { dayAndMinute, formatShown } from '../../../kit/times/times.ts';
import { WhySpan } from '../../../parts/why-span.tsx';
import { figureInWords, isAmount } from './in-words.ts';

/** Most intervals drawn; more are merged with their neighbours. */
const mostDrawn = 340;

/** The figure over time, the expected figure, and the start of the change. */
export function WhyChart(props: { readonly answer: WhyAnswer; readonly condition: string; readonly measure: string }) {
  const { answer, condition, measure } = props;
  const { series, began, times } = answer;
  const option = useCallback(
    (palette: Palette) => {
      const { times: starts, figures, expected } = drawn(answer);
      const format = (value: number): string => figureInWords(value, answer);
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
              itemStyle: { color: began === undefined ? palette.sand : palette.mark, opacity: 0.09 },
              label: { color: palette.mark, position: 'insideTopLeft', fontSize: 11.5 },
              data: [
                [
                  { name: began === undefined ? '' : formatShown(began, 'HH:mm'), xAxis: began ?? times.since.from },
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
    [answer, series, began, times],
  );
  if (series.figures.length < 2) return null;
  return (
    <>
      <p className="mb-1 text-right text-[12.5px] text-second">
        {measure} by {formatDuration((together(answer) * series.width) / 1000)} · {comparedInWords(answer)}
      </p>
      <Chart
        label={`The figure over time${began === undefined ? '' : `, and when it changed: ${formatShown(began, 'd MMM HH:mm')}`}`}
        height={200}
        option={option}
        spanActions={(span) => <WhySpan condition={condition} measure={measure} {...span} />}
      />
    </>
  );
}

/** The compared periods in words. */
function comparedInWords({ times: { since, before }, form }: WhyAnswer): string {
  const [first] = before;
  const own = `${dayAndMinute(since.from)} to ${dayAndMinute(since.to)}`;
  if (!first) return own;
  const days = Math.round((since.from - first.from) / day);
  if (before.length > 1 && form !== 'chosen')
    return since.to - since.from > day
      ? `${own} vs. ${before.length} earlier periods of the same length`
      : `${own} vs. the same hours on ${before.length} earlier days`;
  if (form !== 'chosen' && since.from - first.from === days * day)
    return `${own} vs. the same hours ${days} ${days === 1 ? 'day' : 'days'} earlier`;
  return `${own} vs. ${dayAndMinute((before.at(-1) ?? first).from)} to ${dayAndMinute(first.to)}`;
}

/** How many intervals are drawn as one. */
function together({ series: { figures } }: WhyAnswer): number {
  return Math.max(1, Math.ceil(figures.length / mostDrawn));
}

/** Figures in intervals wide enough to draw: counts are summed, other figures averaged. */
function drawn(answer: WhyAnswer) {
  const { start, width, figures, expected } = answer.series;
  const each = together(answer);
  const count = Math.floor(figures.length / each);
  const isSum = isAmount(answer);
  const put = (values: readonly (number | null)[], place: number): number | null => {
    const known = values.slice(place * each, (place + 1) * each).filter((value) => value !== null);
    if (known.length === 0) return isSum ? 0 : null;
    const sum = known.reduce((all, value) => all + value, 0);
    return isSum ? sum : sum / known.length;
  };
  const places = Array.from({ length: count }, (_, place) => place);
  return {
    times: places.map((place) => start + place * each * width),
    figures: places.map((place) => put(figures, place)),
    expected: expected && places.map((place) => put(expected, place)),
  };
}
