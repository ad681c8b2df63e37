import { type LabelValue, type SeriesLabels, theRest } from './labels.ts';
import type { MetricTrial } from './metric-trial.ts';
import { type MetricWindow, WindowBuilder, type WindowTable } from './metric-window.ts';

/** How a metric that was tried looks over a window, by all its keys; at most `most` lines. */
export function trialTable({ accumulator, values }: MetricTrial, window: MetricWindow, most: number): WindowTable {
  const { keys, measure, aggregates } = accumulator.metric;
  const names = keys.map(({ name }) => name);
  const tops = keys.map(({ top }, i) => topValues(values[i], top));
  const builder = new WindowBuilder(window, aggregates, () => ({}), names);
  for (const [place, { start, labels }] of accumulator.cells.entries()) {
    const shownLabels = labels.map((value, i) => shown(value, tops[i]));
    const named: SeriesLabels = Object.fromEntries(names.map((name, i) => [name, shownLabels[i] ?? null]));
    builder.addCell(named, start, accumulator.points, place);
  }
  return builder.table(measure, 0, most);
}

/** The values that have series of their own; undefined: all. */
function topValues(values: MetricTrial['values'][number] | undefined, top: number | undefined) {
  if (top === undefined) return undefined;
  const ranked = [...(values ?? [])].sort((a, b) => b[1] - a[1]);
  return new Set(ranked.slice(0, top).map(([value]) => value));
}

function shown(value: LabelValue, top: ReadonlySet<string> | undefined): LabelValue {
  return typeof value === 'string' && top && !top.has(value) ? theRest : value;
}
