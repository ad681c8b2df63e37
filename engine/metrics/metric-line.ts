import type { MetricLine } from '#core/answers/metrics.ts';
import type { WindowGroup } from '#core/metrics/metric-window.ts';
import type { EmptyValue } from '#core/plan/parts/metrics/metrics-shape.ts';

/** A line with what is shown where nothing came. */
export function lineOf({ labels, values, all }: WindowGroup, empty: EmptyValue): MetricLine {
  let last: number | null = null;
  let hasBegun = false;
  return {
    labels,
    all: typeof all === 'number' ? all : null,
    values: values.map((value) => {
      if (typeof value === 'number') {
        hasBegun = true;
        last = value;
        return value;
      }
      if (!hasBegun) return null;
      return empty === 'zero' ? 0 : empty === 'last' ? last : null;
    }),
  };
}
