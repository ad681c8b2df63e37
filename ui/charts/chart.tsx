'use client';

import { BarChart, LineChart, MapChart, PieChart, SankeyChart, ScatterChart } from 'echarts/charts';
import { GeoComponent, GridComponent, LegendComponent, MarkAreaComponent, TooltipComponent } from 'echarts/components';
import { type EChartsCoreOption, type EChartsType, init, use } from 'echarts/core';
import { LabelLayout } from 'echarts/features';
import { SVGRenderer } from 'echarts/renderers';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { shownZone } from '../kit/times/shown-zone.ts';
import { seriesColours } from './series-colours.ts';
import type { ShownSpan } from './shown-span.ts';
import { SpanSelection } from './span-selection.tsx';

use([
  BarChart,
  LineChart,
  PieChart,
  SankeyChart,
  MapChart,
  ScatterChart,
  GeoComponent,
  GridComponent,
  LegendComponent,
  MarkAreaComponent,
  TooltipComponent,
  LabelLayout,
  SVGRenderer,
]);

/** The colours of the theme in force. */
export interface Palette {
  readonly ink: string;
  readonly second: string;
  readonly hair: string;
  readonly paper: string;
  readonly sheet: string;
  readonly sand: string;
  readonly caution: string;
  readonly danger: string;
  readonly mark: string;
  /** For things that have no order. */
  readonly series: readonly string[];
  /** Quantity is depth: 0 the lightest, 5 the deepest. */
  readonly depth: readonly string[];
}

function readPalette(): Palette {
  const style = getComputedStyle(document.documentElement);
  const value = (name: string): string => style.getPropertyValue(`--${name}`).trim();
  return {
    ink: value('ink'),
    second: value('second'),
    hair: value('hair'),
    paper: value('paper'),
    sheet: value('sheet'),
    sand: value('sand'),
    caution: value('caution'),
    danger: value('danger'),
    mark: value('mark'),
    series: seriesColours[document.documentElement.dataset.theme === 'night' ? 'night' : 'day'],
    depth: [1, 2, 3, 4, 5, 6].map((n) => value(`d${n}`)),
  };
}

/** Text in pictures. */
export const chartFont = 'Atkinson Hyperlegible Next Variable, sans-serif';

/**
 * A picture. `option` is asked for again when the theme changes; `onClick` gets the name of what was clicked, `onPlace` the
 * value of the horizontal axis, where something is over one.
 */
export function Chart(props: {
  readonly label: string;
  readonly height: number;
  readonly option: (palette: Palette) => EChartsCoreOption;
  readonly onClick?: (name: string) => void;
  readonly onPlace?: (value: number) => void;
  /** What can be done about a span of time that is dragged on a chart over time. */
  readonly spanActions?: (span: ShownSpan) => ReactNode;
}) {
  const holder = useRef<HTMLDivElement>(null);
  const [theme, setTheme] = useState(0);
  const [chart, setChart] = useState<EChartsType>();
  const { option, onClick, onPlace, spanActions } = props;
  useEffect(() => {
    const changed = (): void => setTheme((n) => n + 1);
    window.addEventListener('themechange', changed);
    return () => window.removeEventListener('themechange', changed);
  }, []);
  useEffect(() => {
    if (!holder.current) return;
    const made = init(holder.current, null, { renderer: 'svg' });
    setChart(made);
    const observer = new ResizeObserver(() => made.resize());
    observer.observe(holder.current);
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, []);
  useEffect(() => {
    void theme;
    chart?.setOption(
      {
        animation: false,
        textStyle: { fontFamily: chartFont },
        useUTC: shownZone() === 'utc',
        ...option(readPalette()),
      },
      { notMerge: true },
    );
  }, [chart, option, theme]);
  useEffect(() => {
    if (!chart || !onClick) return;
    const click = (event: { readonly name?: string }): void => onClick(event.name ?? '');
    chart.on('click', click);
    return () => {
      chart.off('click', click);
    };
  }, [chart, onClick]);
  useEffect(() => {
    if (!chart || !onPlace) return;
    const click = ({ offsetX, offsetY }: { readonly offsetX: number; readonly offsetY: number }): void => {
      if (!chart.containPixel({ gridIndex: 0 }, [offsetX, offsetY])) return;
      const value: unknown = chart.convertFromPixel({ xAxisIndex: 0 }, offsetX);
      if (typeof value === 'number') onPlace(value);
    };
    chart.getZr().on('click', click);
    return () => {
      // Of a picture that is gone nothing is left.
      if (!chart.isDisposed()) chart.getZr().off('click', click);
    };
  }, [chart, onPlace]);
  return (
    <div className="relative">
      <div ref={holder} role="img" aria-label={props.label} style={{ height: props.height }} />
      {chart && spanActions && <SpanSelection chart={chart} actions={spanActions} />}
    </div>
  );
}
