import type { VolumePrices } from '#core/costs/volume-prices.ts';
import { day } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Measure } from '#core/why/measure.ts';
import { figureSeries, type Onset, onsetIn, onsetOf } from '#core/why/onset.ts';
import { type ComparedPeriods, chosenPeriods, comparedPeriods, type Period } from '#core/why/periods.ts';
import type { ReadSources } from '../usage/read-sources.ts';
import type { Figures } from './figure-reader.ts';

/** A figure to be explained, over the events that match a condition in a window. */
export interface WhyQuestion {
  readonly condition: string;
  readonly measure: Measure;
  /** The measure as written. */
  readonly measureText: string;
  readonly window: Period;
  /** Called once with where matching events may be. */
  readonly onSources: (read: ReadSources) => void;
  /** For costs. */
  readonly prices?: VolumePrices | undefined;
  /** What gives the records of the tape their fields: the live plan, and when its tables were last changed (milliseconds). */
  readonly tape: { readonly plan: PlanDocument; readonly tables: Readonly<Record<string, number>> };
  /** The window to compare with; absent: the normal level. */
  readonly beside?: Period | undefined;
}

/** How much history tells what is normal (milliseconds). */
export const lookedBack = 14 * day;

/** The change of a series in a window; undefined if there is none, or if two windows were given. */
export function changeIn({ measure, beside }: WhyQuestion, series: Figures, window: Period): Onset | undefined {
  if (beside || series.figures.length < 3) return undefined;
  if (measure.isAdditive) return onsetOf({ ...series, sums: zeros(series.figures) }, window);
  return onsetIn(figureSeries(series.figures, series.events), series, window);
}

/** The periods to compare; undefined if there is too little. */
export function periodsOf(
  { beside }: WhyQuestion,
  window: Period,
  onset: Onset | undefined,
  series: Figures,
): ComparedPeriods | undefined {
  if (beside) return chosenPeriods(window, beside);
  const began = onset?.began ?? window.from;
  return comparedPeriods(began, Math.min(onset?.ended ?? window.to, window.to), firstKnown(series, onset));
}

/** The first time for which the figure is known (milliseconds): the first interval with events, unless the change is that they began. */
function firstKnown({ start, width, events }: Figures, onset: Onset | undefined): number {
  const first = events.findIndex((count) => count > 0);
  const at = start + Math.max(0, first) * width;
  return onset && onset.began <= at + width ? start : at;
}

/** Figures with 0 instead of NaN. */
export function zeros(figures: Float64Array): Float64Array {
  return figures.map((figure) => (Number.isNaN(figure) ? 0 : figure));
}
