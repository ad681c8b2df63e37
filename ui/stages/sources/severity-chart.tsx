'use client';

import { useCallback } from 'react';
import useSWR from 'swr';
import { equals } from '#core/conditions/write.ts';
import { day } from '#core/events/time-units.ts';
import { formatCount } from '#core/events/units.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { lastDays, timeAxes } from '../../charts/time-axes.ts';
import type { SearchHistogram } from '../../data/answers.ts';
import { call } from '../../data/client.ts';
import { WhySpan } from '../../parts/why-span.tsx';

const buckets = 96;
const words = ['unset', 'trace', 'debug', 'info', 'warn', 'error', 'fatal'] as const;

/** Stored events of a source over the last day, by severity. */
export function SeverityChart({ source }: { readonly source: string }) {
  const { data } = useSWR(
    `severity ${source}`,
    async (): Promise<SearchHistogram> => {
      const to = Date.now();
      const from = to - day;
      const given = { condition: equals('source', source), from, to, limit: 0, buckets, background: true };
      return (await call('search', given)).histogram;
    },
    { refreshInterval: 30_000 },
  );
  const option = useCallback(
    (palette: Palette) => {
      const colours = [
        palette.hair,
        palette.depth[0],
        palette.depth[1],
        palette.depth[3],
        palette.caution,
        palette.danger,
        palette.ink,
      ];
      return {
        ...timeAxes(palette, formatCount, { right: 60, span: lastDays(1) }),
        series: words.flatMap((word, place) => {
          const points = (data?.counts ?? []).map((counts, i) => [
            (data?.start ?? 0) + (i + 0.5) * (data?.width ?? 0),
            counts[place] ?? 0,
          ]);
          if (!points.some((point) => (point[1] ?? 0) > 0)) return [];
          return [
            {
              name: word,
              type: 'bar',
              stack: 'all',
              barCategoryGap: '0%',
              itemStyle: { color: colours[place] },
              data: points,
            },
          ];
        }),
        legend: {
          right: 0,
          top: 4,
          orient: 'vertical',
          itemWidth: 10,
          itemHeight: 10,
          textStyle: { color: palette.second, fontSize: 11.5 },
        },
      };
    },
    [data],
  );
  return (
    <Chart
      label={`Events of ${source} by severity over the last day`}
      height={150}
      option={option}
      spanActions={(span) => <WhySpan condition={equals('source', source)} measure="events" {...span} />}
    />
  );
}
