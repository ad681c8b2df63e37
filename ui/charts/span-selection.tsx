'use client';

import type { EChartsType } from 'echarts/core';
import { type ReactNode, useEffect, useState } from 'react';
import type { ShownSpan } from './shown-span.ts';

/** A dragged span, in pixels from the left of the chart and in milliseconds. */
interface Dragged {
  readonly left: number;
  readonly right: number;
  /** Absent while it is being dragged. */
  readonly span?: ShownSpan;
}

/** Shorter drags are clicks (pixels). */
const shortest = 6;

/** Selects a span of time by dragging on a chart, and offers `actions` for it. Escape or a click clears it. */
export function SpanSelection(props: {
  readonly chart: EChartsType;
  readonly actions: (span: ShownSpan) => ReactNode;
}) {
  const { chart, actions } = props;
  const [dragged, setDragged] = useState<Dragged>();
  useEffect(() => {
    let start: number | undefined;
    let end = 0;
    const down = ({ offsetX, offsetY }: Place): void => {
      setDragged(undefined);
      start = chart.containPixel({ gridIndex: 0 }, [offsetX, offsetY]) ? offsetX : undefined;
      end = offsetX;
    };
    const between = (from: number): { readonly left: number; readonly right: number } => ({
      left: Math.min(from, end),
      right: Math.max(from, end),
    });
    const move = ({ offsetX }: Place): void => {
      if (start === undefined) return;
      end = offsetX;
      if (Math.abs(end - start) >= shortest) setDragged(between(start));
    };
    const up = (): void => {
      if (start !== undefined && Math.abs(end - start) >= shortest) {
        const { left, right } = between(start);
        setDragged({ left, right, span: spanOf(chart, left, right) });
      }
      start = undefined;
    };
    const clear = ({ key }: KeyboardEvent): void => {
      if (key === 'Escape') setDragged(undefined);
    };
    const surface = chart.getZr();
    surface.on('mousedown', down);
    surface.on('mousemove', move);
    // The button may be released outside of the chart.
    window.addEventListener('mouseup', up);
    window.addEventListener('keydown', clear);
    return () => {
      window.removeEventListener('mouseup', up);
      window.removeEventListener('keydown', clear);
      if (chart.isDisposed()) return;
      surface.off('mousedown', down);
      surface.off('mousemove', move);
    };
  }, [chart]);
  if (!dragged) return null;
  const { left, right, span } = dragged;
  return (
    <>
      <div
        aria-hidden="true"
        className="pointer-events-none absolute inset-y-0 border-mark border-x bg-mark/10"
        style={{ left, width: right - left }}
      />
      {span && (
        <div
          className="absolute top-1 z-10 -translate-x-1/2 whitespace-nowrap rounded border border-hair bg-sheet px-2.5 py-1 text-[12.5px] shadow-sm"
          style={{ left: (left + right) / 2 }}
        >
          {actions(span)}
        </div>
      )}
    </>
  );
}

interface Place {
  readonly offsetX: number;
  readonly offsetY: number;
}

/** The times at two places of a chart over time, in full seconds. */
function spanOf(chart: EChartsType, left: number, right: number): ShownSpan {
  const at = (x: number): number => Math.round(Number(chart.convertFromPixel({ xAxisIndex: 0 }, x)) / 1_000) * 1_000;
  return { from: at(left), to: at(right) };
}
