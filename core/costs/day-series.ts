import type { Outcome } from '../routing/ledger.ts';

/**
 * The volume of one kind by the day: what came from a source, went to a tier and met a fate, and is of a shape and severity
 * where it is told apart by them. Figures are of consecutive days from `from` on, all of the same length.
 */
export interface DaySeries {
  readonly source: string;
  readonly tier: string;
  readonly outcome: Outcome;
  /** Empty where shapes are not told apart, or nothing has one. */
  readonly shape: string;
  /** Severity class from 0 to 6; −1 where severities are not told apart. */
  readonly severity: number;
  /** In days. */
  readonly from: number;
  readonly events: Float64Array;
  readonly bytes: Float64Array;
  readonly stored: Float64Array;
}

/** Events, and their bytes as they arrived and as they are stored. */
export interface DayVolume {
  readonly events: number;
  readonly bytes: number;
  readonly stored: number;
}

/** The first day on which something came; undefined where nothing did. */
export function firstDayOf(series: readonly DaySeries[]): number | undefined {
  let first: number | undefined;
  for (const { from, events, bytes } of series) {
    for (let at = 0; at < events.length && (first === undefined || from + at < first); at++)
      if (events[at] !== 0 || bytes[at] !== 0) first = from + at;
  }
  return first;
}

/** What was received in all on a day, in bytes. */
export function receivedByDay(series: readonly DaySeries[]): (day: number) => number {
  const days = new Map<number, number>();
  for (const { from, bytes } of series)
    for (let at = 0; at < bytes.length; at++) {
      const came = bytes[at] as number;
      if (came !== 0) days.set(from + at, (days.get(from + at) ?? 0) + came);
    }
  return (day) => days.get(day) ?? 0;
}

/** The sums of a series over the days `from` up to `to`; those outside of it count as zero. */
export function volumeBetween(
  series: DaySeries,
  from: number,
  to: number,
): Pick<DaySeries, 'source' | 'tier' | 'outcome'> & DayVolume {
  const sum = (figures: Float64Array): number =>
    figures
      .subarray(Math.max(0, from - series.from), Math.max(0, to - series.from))
      .reduce((all, value) => all + value, 0);
  const { source, tier, outcome, events, bytes, stored } = series;
  return { source, tier, outcome, events: sum(events), bytes: sum(bytes), stored: sum(stored) };
}
