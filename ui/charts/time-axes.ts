import type { Palette } from './chart.tsx';
import type { ShownSpan } from './shown-span.ts';

/** The last `days` days, up to now. */
export function lastDays(days: number): ShownSpan {
  const to = Date.now();
  return { from: to - days * 86_400_000, to };
}

/**
 * Grid, tooltip and axes of a chart over time, in the theme's colours; `format` formats values. Without `span`, the axis covers
 * the data.
 */
export function timeAxes(
  palette: Palette,
  format: (value: number) => string,
  { right = 12, span }: { readonly right?: number; readonly span?: ShownSpan } = {},
) {
  return {
    grid: { left: 58, right, top: 10, bottom: 22 },
    tooltip: {
      trigger: 'axis',
      valueFormatter: format,
      backgroundColor: palette.sheet,
      borderColor: palette.hair,
      textStyle: { color: palette.ink },
    },
    xAxis: {
      type: 'time',
      ...(span && { min: span.from, max: span.to }),
      axisLabel: { color: palette.second, fontSize: 11.5 },
      axisLine: { lineStyle: { color: palette.second } },
    },
    yAxis: {
      type: 'value',
      splitNumber: 3,
      axisLabel: { color: palette.second, fontSize: 11.5, formatter: format },
      splitLine: { lineStyle: { color: palette.hair, opacity: 0.6 } },
    },
  } as const;
}
