'use client';

import { useCallback } from 'react';
import type { OverviewView } from '../data/answers.ts';
import { type Measure, measured } from '../data/measures.ts';
import { Chart, type Palette } from './chart.tsx';
import { tierDepth } from './tier-depth.ts';

/** Volume by day, stacked by where it went; names stand beside the last bar. */
export function VolumeChart({
  view,
  measure,
  height,
}: {
  readonly view: OverviewView;
  readonly measure: Measure;
  readonly height: number;
}) {
  const option = useCallback(
    (palette: Palette) => {
      const amount = (value: number): string => measured(value, measure, view.currency);
      const colour = (place: OverviewView['places'][number]): string => {
        if (place.kind === 'tier') return palette.depth[tierDepth(place.shade)] ?? palette.ink;
        return place.kind === 'passing' ? palette.hair : palette.sand;
      };
      const days = view.slices.map(({ start }) =>
        new Date(start).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' }),
      );
      return {
        grid: { left: 58, right: 226, top: 10, bottom: 22 },
        tooltip: {
          trigger: 'axis',
          valueFormatter: amount,
          backgroundColor: palette.sheet,
          borderColor: palette.hair,
          textStyle: { color: palette.ink },
        },
        xAxis: {
          type: 'category',
          data: days,
          axisTick: { show: false },
          axisLine: { lineStyle: { color: palette.second } },
          axisLabel: { color: palette.second, fontSize: 11.5 },
        },
        yAxis: {
          type: 'value',
          splitNumber: 4,
          axisLabel: {
            color: palette.second,
            fontSize: 11.5,
            formatter: (value: number) => amount(value).replace(/\.00$/, ''),
          },
          splitLine: { lineStyle: { color: palette.hair, opacity: 0.6 } },
        },
        series: view.places.map((place) => ({
          name: place.title,
          type: 'bar',
          stack: 'all',
          barWidth: '74%',
          itemStyle: { color: colour(place) },
          data: view.slices.map((slice) => Math.round(slice.places[place.id]?.[measure] ?? 0)),
        })),
      };
    },
    [view, measure],
  );
  return (
    <div className="relative">
      <Chart label="Volume received by day, by where it went" height={height} option={option} />
      <ul className="absolute top-2 right-0 flex w-[212px] flex-col-reverse text-[12px] leading-[19px]">
        {view.places.map((place) => (
          <PlaceName key={place.id} place={place} />
        ))}
      </ul>
    </div>
  );
}

function PlaceName({ place }: { readonly place: OverviewView['places'][number] }) {
  const colour =
    place.kind === 'tier'
      ? `var(--d${tierDepth(place.shade) + 1})`
      : place.kind === 'passing'
        ? 'var(--hair)'
        : 'var(--sand)';
  return (
    <li className="flex items-center gap-2">
      <span aria-hidden="true" className="size-2.5 shrink-0" style={{ background: colour }} />
      <span className="truncate">{place.title}</span>
    </li>
  );
}
