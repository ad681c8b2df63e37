'use client';

import { useCallback } from 'react';
import { formatBytes } from '#core/events/units.ts';
import { shapeWords } from '#core/shapes/pieces.ts';
import { Chart, type Palette } from '../../../charts/chart.tsx';
import type { ShapesAnswer, ShapeView } from '../../../data/answers.ts';
import { dayAndMinute } from '../../../kit/times/times.ts';

/** Some shapes over time in one picture, in bytes. */
export function ShapeComparison({
  answer,
  compared,
}: {
  readonly answer: ShapesAnswer;
  readonly compared: readonly ShapeView[];
}) {
  const { from, every } = answer;
  const option = useCallback(
    (palette: Palette) => ({
      grid: { left: 58, right: 20, top: 34, bottom: 22 },
      color: [...palette.series],
      legend: { top: 0, left: 50, icon: 'roundRect', itemWidth: 10, itemHeight: 10, textStyle: { color: palette.ink } },
      tooltip: {
        trigger: 'axis',
        valueFormatter: formatBytes,
        backgroundColor: palette.sheet,
        borderColor: palette.hair,
        textStyle: { color: palette.ink },
      },
      xAxis: {
        type: 'category',
        data: (compared[0]?.trend ?? []).map((_, slice) => dayAndMinute(from + slice * every)),
        axisTick: { show: false },
        axisLine: { lineStyle: { color: palette.second } },
        axisLabel: { color: palette.second, fontSize: 11.5 },
      },
      yAxis: {
        type: 'value',
        min: 0,
        splitNumber: 3,
        axisLabel: { color: palette.second, fontSize: 11.5, formatter: formatBytes },
        splitLine: { lineStyle: { color: palette.hair, opacity: 0.6 } },
      },
      series: compared.map(({ pieces, trend }) => ({
        name: shapeWords(pieces).slice(0, 48),
        type: 'line',
        showSymbol: false,
        data: trend.map(Math.round),
      })),
    }),
    [compared, from, every],
  );
  return (
    <figure className="mb-4">
      <Chart label="Chosen shapes over time, bytes" height={200} option={option} />
    </figure>
  );
}
