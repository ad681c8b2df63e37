import type { Palette } from './chart.tsx';

/** Grid, tooltip and axes of a picture over time, with the theme's colours; `format` writes what it measures. */
export function timeAxes(palette: Palette, format: (value: number) => string, right = 12) {
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
