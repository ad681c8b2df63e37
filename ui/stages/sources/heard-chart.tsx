'use client';

import { useCallback } from 'react';
import { formatCount } from '#core/events/units.ts';
import type { HeardHour } from '#core/health/heard.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { lastDays, timeAxes } from '../../charts/time-axes.ts';
import { useQuestion } from '../../data/client.ts';

/** Health over a week: how many emitters of a source were heard in each hour, and how many were due but missing. */
export function HeardChart({ source }: { readonly source: string }) {
  const { data } = useQuestion('heard', { name: source }, 60_000);
  const option = useCallback(
    (palette: Palette) => {
      const bars = (name: string, color: string | undefined, value: (hour: HeardHour) => number) => ({
        name,
        type: 'bar',
        stack: 'all',
        barCategoryGap: '0%',
        itemStyle: { color },
        data: data?.hours.map((hour) => [hour.start + 1_800_000, value(hour)]),
      });
      const axes = timeAxes(palette, formatCount, { span: lastDays(7) });
      return {
        ...axes,
        yAxis: { ...axes.yAxis, minInterval: 1, splitNumber: 2 },
        series: [
          bars('heard', palette.depth[2], ({ heard }) => heard),
          bars('missing', palette.danger, ({ missing }) => missing),
        ],
      };
    },
    [data],
  );
  return (
    <Chart label={`Emitters of ${source} heard and missing by the hour over a week`} height={90} option={option} />
  );
}
